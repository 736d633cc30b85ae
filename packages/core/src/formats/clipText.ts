import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { KneaderError } from "../errors.ts";
import type { Clip } from "../model/clip.ts";
import { checkClip } from "./checkShot.ts";
import { isRecord, migrate, SCHEMA_VERSION } from "./migrate.ts";
import { sayIssue } from "./sayIssue.ts";
import { clipToJson, writtenClip } from "./schema.ts";

const FORMAT = "kneader-keys";

/** Copied keys as a setting: a clip in memory, or the text or JSON of one. */
export const clipSchema = z.unknown().transform((given, ctx): Clip => {
  if (isClip(given)) return given;
  try {
    if (given === undefined || given === null || given === "") throw new KneaderError("bad-setting", "nothing has been copied yet");
    if (typeof given === "string") return clipFromText(given);
    // A step of a history has the clip alone, as today's version writes it.
    const isAlone = isRecord(given) && given.keys === undefined && given.curves !== undefined;
    return clipFromJson(isAlone ? { version: SCHEMA_VERSION, keys: given } : given);
  } catch (error) {
    ctx.addIssue({ code: "custom", message: (error as Error).message });
    return z.NEVER;
  }
});

function isClip(given: unknown): given is Clip {
  const { curves, controls } = (given ?? {}) as Partial<Clip>;
  if (typeof curves !== "object" || curves === null || !Array.isArray(controls)) return false;
  return Object.values(curves).every((curve) => (curve as Curve).times instanceof Float64Array);
}

export function clipToText(clip: Clip): string {
  return JSON.stringify({ format: FORMAT, version: SCHEMA_VERSION, keys: clipToJson(clip) });
}

/** Keys from text. Errors: `json-syntax` for text that is something else, with how it begins; `newer-version`. */
export function clipFromText(text: string): Clip {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw notKeys(text);
  }
  if ((json as { format?: unknown } | null)?.format !== FORMAT) throw notKeys(text);
  return clipFromJson(json);
}

function notKeys(text: string): KneaderError {
  const start = text.trim().slice(0, 40);
  return new KneaderError(
    "json-syntax",
    start === "" ? "The clipboard is empty." : `What was copied is not keys: it begins with "${start}".`,
    "Copy keys, curves or a pose first.",
  );
}

function clipFromJson(json: unknown): Clip {
  const { version, keys } = json as { version?: unknown; keys?: unknown };
  const read = writtenClip.safeParse(migrate("clip", version, keys));
  if (!read.success) throw new KneaderError("json-syntax", `The copied keys are damaged: ${sayIssue(read.error)}.`, "Copy them again.");
  checkClip(read.data.curves, read.data.length, read.data.rate);
  return read.data;
}
