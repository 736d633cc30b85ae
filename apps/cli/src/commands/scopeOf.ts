import { BASE, layerCurves, type Scope, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { didYouMean } from "../arguments/didYouMean.ts";
import type { Option, Parsed } from "../arguments/parse.ts";
import { type Talk, UsageError } from "../result.ts";

export const scopeOptions: readonly Option[] = [
  { name: "controls", takes: "A,B", help: "Only these controls, by name or id." },
  { name: "range", takes: "FIRST-LAST", help: "Only these frames, such as 1-48 or -30--6." },
  { name: "layer", takes: "base|PASS", help: "Base motion, or a pass by name or id." },
];

interface Named {
  readonly id: string;
  readonly name: string;
}

/** The id of who is called so: by id, else by name, whatever the case. Errors: `UsageError`. */
function idOf(written: string, all: readonly Named[], what: string, command: string): string {
  const plain = written.trim().toLowerCase();
  const found =
    all.find(({ id }) => id === written.trim()) ?? all.find(({ id, name }) => [id, name].some((one) => one.toLowerCase() === plain));
  if (found) return found.id;
  const names = all.flatMap(({ id, name }) => [name, id]);
  throw new UsageError(
    `${what} has no "${written}".${didYouMean(written, names) || ` It has: ${listed(all.map(({ name }) => name))}.`}`,
    command,
  );
}

const listed = (names: readonly string[]) =>
  names.length > 12 ? `${names.slice(0, 12).join(", ")} and ${names.length - 12} more` : names.join(", ");

/** What the range option says, looked at before a file is read. Errors: `UsageError`. */
export function rangeOf({ options }: Parsed, command: string): Scope["range"] {
  const text = options.range?.at(-1);
  if (text === undefined) return null;
  const match = /^(-?\d+)-(-?\d+)$/.exec(text);
  if (!match) throw new UsageError(`--range needs first-last, such as 1-48, not "${text}".`, command);
  const [start, end] = [Number(match[1]), Number(match[2])];
  if (end < start) throw new UsageError(`--range ${text}: it ends before it begins.`, command);
  return { start, end };
}

/** Who, which frames and which layer the options say. A range without a key is noted. Errors: `UsageError`. */
export function scopeOf(shot: Shot, given: Parsed, talk: Talk, command: string): Scope {
  const { options } = given;
  const controls =
    options.controls?.flatMap((list) => list.split(",")).map((name) => idOf(name, shot.rig.controls, "The shot's figure", command)) ?? null;
  const written = options.layer?.at(-1);
  const layer = written === undefined || written === BASE ? BASE : idOf(written, shot.passes, "Of its passes the shot", command);
  const scope = { ...WHOLE_FIGURE, controls, range: rangeOf(given, command), layer };
  sayEmptyRange(shot, scope, talk);
  return scope;
}

function sayEmptyRange(shot: Shot, { range, layer, controls }: Scope, talk: Talk): void {
  if (!range) return;
  const meant = Object.entries(layerCurves(shot, layer)).filter(
    ([key]) => controls === null || controls.some((id) => key.startsWith(`${id}.`)),
  );
  const times = meant.flatMap(([, curve]) => [...curve.times]);
  if (times.some((time) => time >= range.start && time <= range.end)) return;
  const where = times.length === 0 ? "there are none at all" : `they stand at frames ${Math.min(...times)} to ${Math.max(...times)}`;
  talk.note(`--range ${range.start}-${range.end} holds no key of what is meant: ${where}.`);
}
