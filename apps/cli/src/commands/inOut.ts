import { type Imported, formats, type Shot } from "@kneader/core";
import type { Parsed } from "../arguments/parse.ts";
import { didYouMean } from "../arguments/didYouMean.ts";
import { inputAt } from "../overInput.ts";
import { bytesOf, open, openBytes, replaceFile } from "../files.ts";
import { type Answer, type Talk, UsageError } from "../result.ts";

/** Where standard input and output stand for a file. */
const STREAM = "-";

/** IN and OUT of a command, by name and kind. */
export interface InOut {
  readonly from: string;
  readonly to: string;
  /** The names by which their kinds are known. */
  readonly fromName: string;
  readonly toName: string;
}

/** Look at IN and OUT before anything is read. Errors: `UsageError`. */
export async function inOut(from: string, to: string, { options }: Parsed, command: string): Promise<InOut> {
  const fromName = nameOf(from, options.from?.[0], "from", command);
  const toName = nameOf(to, options.to?.[0], "to", command);
  if (options.overwrite === undefined && to !== STREAM && (await inputAt(to, [from])) !== null)
    throw new UsageError(`"${to}" is the file that is read. Give another OUT, or say --overwrite.`, command);
  return { from, to, fromName, toName };
}

function nameOf(file: string, kind: string | undefined, option: string, command: string): string {
  if (file !== STREAM) {
    if (kind !== undefined) throw new UsageError(`--${option} is for "-"; the name "${file}" says what it is.`, command);
    needKind(file, command);
    return file;
  }
  if (kind === undefined) throw new UsageError(`"-" needs --${option} EXT, such as --${option} bvh.`, command);
  const name = `standard-${option === "from" ? "input" : "output"}.${kind.replace(/^\./, "")}`;
  needKind(name, command);
  return name;
}

/** Errors: `UsageError` where the name ends in nothing known. */
export function needKind(file: string, command: string): void {
  const kinds = formats.map(({ extension }) => extension);
  if (kinds.some((extension) => file.toLowerCase().endsWith(extension))) return;
  const ends = /\.[^./\\]*$/.exec(file)?.[0] ?? "";
  throw new UsageError(
    `"${file}" is of a kind that is not known here. Known are ${kinds.join(" ")}.${ends ? didYouMean(ends, kinds) : ""}`,
    command,
  );
}

/** The shot of IN. Errors: `not-found` and those of the formats. */
export async function openIn({ from, fromName }: InOut, talk: Talk): Promise<Imported> {
  return from === STREAM ? openBytes(await talk.read(), fromName, talk) : open(from, talk);
}

/** Write a shot as OUT says. Errors: `not-found`, those of the formats. */
export async function saveOut(shot: Shot, inout: InOut, talk: Talk, asset: Uint8Array | null = null): Promise<void> {
  await putOut(await bytesOf(shot, inout.toName, talk, asset), inout, talk);
}

export async function putOut(bytes: Uint8Array, { to }: InOut, talk: Talk): Promise<void> {
  if (to === STREAM) talk.bytes(bytes);
  else await replaceFile(to, bytes);
}

/** A report: on standard output, or, where that holds the result, on standard error. */
export function answer(said: unknown, { to }: InOut, talk: Talk): Answer {
  if (to !== STREAM) return { said };
  talk.note(JSON.stringify(said));
  return { failed: 0 };
}
