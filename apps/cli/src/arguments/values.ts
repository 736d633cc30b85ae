import { readFile } from "node:fs/promises";
import { KneaderError } from "@kneader/core";
import { inWords } from "../files.ts";
import { UsageError } from "../result.ts";
import { didYouMean } from "./didYouMean.ts";

/** What a setting takes, as its schema says. */
export interface Taken {
  readonly type?: string;
  readonly enum?: readonly unknown[];
}

/** A setting's value from its text; `@FILE` reads JSON from a file. Errors: `UsageError`, and those of reading the file. */
export async function valueFrom(text: string, name: string, taken: Taken, command: string): Promise<unknown> {
  if (text.startsWith("@")) return readJson(text.slice(1));
  if (taken.type === "number" || taken.type === "integer") {
    const value = Number(text);
    if (text.trim() === "" || Number.isNaN(value)) throw new UsageError(`--set ${name}: "${text}" is not a number.`, command);
    return value;
  }
  if (taken.type === "boolean") {
    if (text !== "true" && text !== "false") throw new UsageError(`--set ${name}: "${text}" is neither true nor false.`, command);
    return text === "true";
  }
  if (taken.type === "array") {
    // Words stand one after the other; what is made of parts is written as JSON.
    if (text.trim().startsWith("[")) return jsonFrom(text, name, command);
    return text
      .split(",")
      .map((item) => item.trim())
      .filter(Boolean);
  }
  if (taken.type === "object") return jsonFrom(text, name, command);
  if (taken.enum && !taken.enum.includes(text)) {
    const names = taken.enum.map(String);
    throw new UsageError(`--set ${name}: "${text}" is none of ${names.join(", ")}.${didYouMean(text, names)}`, command);
  }
  return text;
}

function jsonFrom(text: string, name: string, command: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new UsageError(`--set ${name}: "${text.slice(0, 60)}" is no JSON.`, command);
  }
}

async function readJson(file: string): Promise<unknown> {
  let text: string;
  try {
    text = await readFile(file, "utf8");
  } catch (error) {
    throw inWords(error, `"${file}" cannot be read`);
  }
  try {
    return JSON.parse(text);
  } catch {
    throw new KneaderError("json-syntax", `"${file}" is no JSON.`, "A value from a file must be JSON, such as a saved action.");
  }
}
