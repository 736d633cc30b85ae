import { readFile } from "node:fs/promises";
import {
  catalogue,
  checkSettings,
  countKeys,
  formatOf,
  formats,
  framesPerSecond,
  KneaderError,
  noContext,
  runOperation,
  operationById,
  type Report,
  sayError,
  type Scope,
  settingsSchema,
  type Shot,
  WHOLE_FIGURE,
  writeAction,
} from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { inWords, open, replaceFile, save } from "./files.ts";

export interface CliResult {
  /** 0 done, 1 failed, 2 called wrongly. */
  readonly code: 0 | 1 | 2;
  /** For standard output. */
  readonly output: string;
  /** Lines for standard error. */
  readonly messages: readonly string[];
}

const usage = [
  "Usage:",
  "  kneader info FILE                       what a file holds, as JSON",
  `  kneader convert IN OUT                  formats by extension: ${formats.map(({ extension }) => extension).join(" ")};
                                          a character's own glTF file is handed back with nothing but its motion changed`,
  "  kneader apply OPERATION IN OUT [--set name=value ...] [--controls a,b] [--range first-last] [--layer base|pass]",
  "                                          run a rework operation; @FILE as a value reads JSON from FILE",
  "  kneader recipe FILE IN ... --out DIR [--jobs N] [--set STEP.name=value ...]",
  "                                          run a recipe on shots, folders and patterns, several at a time; a line of JSON each",
  "  kneader operations                      the catalogue with its settings, as JSON",
  "  kneader demo NAME OUT                   writes a shot of the demo; without NAME and OUT lists them",
];

class UsageError extends Error {}

/** Lines of JSON, and how many of them tell of a failure. */
class Lines {
  text = "";
  failed = 0;
}

/**
 * Run the command line: arguments in, text and exit code out. Reads and writes only the files named. What is said line by
 * line goes to `write` at once, where that is given.
 */
export async function runCli(args: readonly string[], write?: (text: string) => void): Promise<CliResult> {
  const messages: string[] = [];
  try {
    const [command, ...rest] = args;
    const result = await dispatch(command, rest, messages, write);
    if (result instanceof Lines) return { code: result.failed > 0 ? 1 : 0, output: result.text, messages };
    return { code: 0, output: `${JSON.stringify(result, null, 2)}\n`, messages };
  } catch (error) {
    if (error instanceof UsageError) return { code: 2, output: "", messages: [error.message, ...usage] };
    const said =
      error instanceof KneaderError ? sayError(error) : `Something went wrong inside Kneader (${sayError(error)}). Nothing was written.`;
    return { code: 1, output: "", messages: [...messages, said] };
  }
}

async function dispatch(
  command: string | undefined,
  rest: readonly string[],
  messages: string[],
  write: ((text: string) => void) | undefined,
): Promise<unknown> {
  if (command === "operations")
    return catalogue.map(({ id, title, group, help, ...operation }) => ({
      id,
      title,
      group,
      help,
      settings: settingsSchema({ id, title, group, help, ...operation }),
    }));
  if (command === "info") {
    const [file] = need(rest, 1, "info needs one FILE.");
    return info((await open(file, messages)).shot);
  }
  if (command === "convert") {
    const [from, to] = need(rest, 2, "convert needs IN and OUT.");
    formatOf(to);
    const { shot, asset } = await open(from, messages);
    await save(shot, to, messages, asset);
    return { ...info(shot), written: to };
  }
  if (command === "apply") return apply(rest, messages);
  if (command === "demo") return demo(rest, messages);
  if (command === "recipe") return recipe(rest, write);
  throw new UsageError(command ? `"${command}" is not a command.` : "Say what to do.");
}

function need(rest: readonly string[], count: number, message: string): string[] {
  if (rest.length !== count) throw new UsageError(message);
  return [...rest];
}

async function apply(rest: readonly string[], messages: string[]): Promise<unknown> {
  const { plain, options } = parse(rest);
  const [id, from, to] = need(plain, 3, "apply needs OPERATION, IN and OUT.");
  if (!catalogue.some((operation) => operation.id === id))
    throw new UsageError(`There is no operation "${id}". Known are: ${catalogue.map((o) => o.id).join(", ")}.`);
  const operation = operationById(id);
  const given: Record<string, unknown> = {};
  const { properties = {} } = settingsSchema(operation) as { properties?: Record<string, { type?: string }> };
  for (const text of options.set ?? []) {
    const at = text.indexOf("=");
    if (at < 1) throw new UsageError(`--set needs name=value, not "${text}".`);
    const name = text.slice(0, at);
    if (!(name in properties))
      throw new UsageError(`"${id}" has no setting "${name}". It has: ${Object.keys(properties).join(", ") || "none"}.`);
    given[name] = await parseValue(text.slice(at + 1), properties[name].type);
  }
  checkSettings(operation, given);
  if (operation.makes === undefined) formatOf(to);
  const { shot, asset } = await open(from, messages);
  const scope = scopeFrom(options);
  // What is not said is as it would be proposed at the beginning of the shot, or of the range that is meant.
  const frame = scope.range?.start ?? shot.range.start;
  const proposed = operation.situation?.({ shot, scope, frame, copiedPose: null, copiedKeys: null, poseShare: 0.5 });
  const settings = checkSettings(operation, { ...proposed, ...given });
  const outcome = await runOperation(operation, shot, scope, settings, noContext);
  if (outcome.action) await replaceFile(to, writeAction(outcome.action));
  else await save(outcome.shot, to, messages, asset);
  return {
    operation: id,
    settings: shortSettings(settings as Record<string, unknown>),
    written: to,
    report: shortReport(outcome.report),
  };
}

/** A recipe on many shots: a line of JSON each, in the order given. */
async function recipe(rest: readonly string[], write: ((text: string) => void) | undefined): Promise<Lines> {
  const { plain, options } = parse(rest);
  const [file, ...inputs] = plain;
  const [out] = options.out ?? [];
  const jobs = options.jobs ? Number(options.jobs[0]) : null;
  if (!file || inputs.length === 0 || !out) throw new UsageError("recipe needs FILE, IN and --out DIR.");
  if (jobs !== null && !(Number.isInteger(jobs) && jobs >= 1 && jobs <= 256))
    throw new UsageError(`--jobs needs a number from 1 to 256, not "${options.jobs?.[0]}".`);
  const lines = new Lines();
  // What it takes to run several at a time is only loaded for this.
  const { runMany } = await import("./recipe/runMany.ts");
  const line = (said: unknown) => {
    const text = `${JSON.stringify(said)}\n`;
    if (write) write(text);
    else lines.text += text;
  };
  lines.failed = await runMany({ recipe: file, inputs, out, jobs, set: options.set ?? [], line });
  return lines;
}

/** A demo shot by its name or id, whatever the case; blanks and hyphens are alike. */
async function demo(rest: readonly string[], messages: string[]): Promise<unknown> {
  if (rest.length === 0) return demoShots.map(({ name, note }) => ({ name, note }));
  const [wanted, to] = need(rest, 2, "demo needs NAME and OUT.");
  const plain = (name: string) =>
    name
      .toLowerCase()
      .replace(/^demo-/, "")
      .replaceAll("-", " ");
  const found = demoShots.find(({ id, name }) => plain(name) === plain(wanted) || plain(id) === plain(wanted));
  if (!found) throw new UsageError(`There is no demo shot "${wanted}". There are: ${demoShots.map(({ name }) => name).join(", ")}.`);
  formatOf(to);
  const shot = await found.make();
  await save(shot, to, messages);
  return { ...info(shot), written: to };
}

function parse(rest: readonly string[]): { plain: string[]; options: Record<string, string[]> } {
  const plain: string[] = [];
  const options: Record<string, string[]> = {};
  for (let i = 0; i < rest.length; i++) {
    const name = /^--(set|controls|range|layer|out|jobs)$/.exec(rest[i])?.[1];
    if (name) {
      const value = rest[++i];
      if (value === undefined) throw new UsageError(`--${name} needs a value.`);
      options[name] = [...(options[name] ?? []), value];
    } else if (rest[i].startsWith("--")) throw new UsageError(`"${rest[i]}" is not an option.`);
    else plain.push(rest[i]);
  }
  return { plain, options };
}

async function parseValue(text: string, type: string | undefined): Promise<unknown> {
  if (text.startsWith("@")) return readJson(text.slice(1));
  if (type === "number" || type === "integer") {
    const value = Number(text);
    if (text.trim() === "" || Number.isNaN(value)) throw new UsageError(`"${text}" is not a number.`);
    return value;
  }
  if (type === "boolean") {
    if (text !== "true" && text !== "false") throw new UsageError(`"${text}" is neither true nor false.`);
    return text === "true";
  }
  if (type === "array")
    return text
      .split(",")
      .map((item) => item.trim())
      .filter(Boolean);
  return text;
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

function scopeFrom(options: Record<string, string[]>): Scope {
  const range = options.range?.[0];
  const match = range === undefined ? null : /^(-?\d+)-(-?\d+)$/.exec(range);
  if (range !== undefined && !match) throw new UsageError(`--range needs first-last, such as 1-48, not "${range}".`);
  return {
    ...WHOLE_FIGURE,
    controls: options.controls ? options.controls.flatMap((list) => list.split(",")) : null,
    range: match ? { start: Number(match[1]), end: Number(match[2]) } : null,
    layer: options.layer?.[0] ?? "base",
  };
}

function info(shot: Shot) {
  return {
    name: shot.name,
    controls: shot.rig.controls.length,
    curves: Object.keys(shot.base).length,
    keys: countKeys(shot.base),
    passes: shot.passes.map((pass) => ({ name: pass.name, kind: pass.kind, on: pass.on, keys: countKeys(pass.curves) })),
    constraints: shot.constraints.map(({ name, kind, on }) => ({ name, kind, on })),
    framesPerSecond: framesPerSecond(shot.rate),
    range: shot.range,
  };
}

/** Settings without what was read from a file. */
function shortSettings(settings: Record<string, unknown>): Record<string, unknown> {
  const isLong = (value: unknown) => typeof value === "object" && value !== null && !Array.isArray(value);
  return Object.fromEntries(Object.entries(settings).map(([name, value]) => [name, isLong(value) ? "given" : value]));
}

/** A report without its long columns. */
function shortReport({ drift, strain, ...report }: Report) {
  return { ...report, drift: drift === null ? null : { turn: drift.turn, place: drift.place }, ...(strain && { strain: strain.said }) };
}
