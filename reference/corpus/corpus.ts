import {
  catalogue,
  checkSettings,
  formats,
  KneaderError,
  noContext,
  type Operation,
  readShot,
  runOperation,
  type Scope,
  type Shot,
  WHOLE_FIGURE,
} from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { Chance } from "../../packages/core/test/help/chance.ts";
import { Mark, markShot } from "./fingerprint.ts";
import { scopeFor } from "./scopes.ts";
import { settingsFor } from "./settings.ts";
import { steadyMath } from "./steadyMath.ts";

/** Files that are read from beside this one: shots by chance, as an early version wrote them, and a motion capture. */
export interface CorpusFiles {
  readonly shots: readonly { readonly name: string; readonly bytes: Uint8Array }[];
}

/** One mark a case: what came of an operation or a file, to the last bit. */
export type Marks = Record<string, string>;

async function shotsOf(files: CorpusFiles): Promise<{ name: string; shot: Shot; isLong: boolean }[]> {
  const shots = [];
  for (const { id, make } of demoShots) shots.push({ name: id, shot: { ...(await make()), id }, isLong: false });
  for (const { name, bytes } of files.shots) {
    const { shot } = await readShot(bytes, name);
    shots.push({ name, shot: { ...shot, id: name }, isLong: shot.range.end - shot.range.start > 1000 });
  }
  return shots;
}

/** A long capture is worked on in a part of it, or it would take all day. */
const PART_OF_LONG: Partial<Scope> = { controls: ["LeftArm", "Hips"], range: { start: 200, end: 320 } };

async function markRun(operation: Operation, shot: Shot, scope: Scope, chance: Chance | null): Promise<string> {
  try {
    const settings = checkSettings(operation, await settingsFor(operation, shot, chance));
    const { shot: after, report, action } = await runOperation(operation, shot, scope, settings, noContext);
    const mark = after === shot ? new Mark().text("as it was") : markShot(after);
    mark.text(
      JSON.stringify([
        report.summary,
        report.keysBefore,
        report.keysAfter,
        report.curvesChanged,
        report.warnings,
        report.notes,
        report.worstCurve,
      ]),
    );
    if (report.drift) mark.text(JSON.stringify([report.drift.turn, report.drift.place])).numbers(report.drift.turnPerFrame);
    if (action) mark.text("action");
    return String(mark);
  } catch (error) {
    if (!(error instanceof KneaderError)) throw error;
    return `${new Mark().text(error.message)} ${error.code}`;
  }
}

async function markFiles(name: string, shot: Shot): Promise<Marks> {
  const marks: Marks = {};
  for (const { id, extension, write } of formats) {
    const { bytes, notes } = await write(shot);
    const read = await readShot(bytes, `again${extension}`);
    // What stands in a file of our own changes with its version; what is read back from it may not.
    const own = id === "json" ? new Mark() : new Mark().bytes(bytes);
    marks[`${id} of ${name}`] = `${own.text(JSON.stringify(notes))} ${markShot(read.shot).text(JSON.stringify(read.notes))}`;
  }
  return marks;
}

/** A seed from a case's own name, so that a new operation changes nothing for the others. */
const seedOf = (text: string): number => [...text].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) % 1e6, 7);

export interface CorpusOptions {
  /** Run one case in so many. */
  readonly oneIn?: number;
  readonly say?: (done: string) => void;
}

/** Every operation with its settings as they stand and with two others, on every shot; every shot through every format. */
export async function runCorpus(files: CorpusFiles, { oneIn = 1, say = () => undefined }: CorpusOptions = {}): Promise<Marks> {
  steadyMath();
  const marks: Marks = {};
  let at = 0;
  for (const { name, shot, isLong } of await shotsOf(files)) {
    marks[name] = String(markShot(shot));
    if (oneIn === 1 || !isLong) Object.assign(marks, await markFiles(name, shot));
    for (const operation of catalogue)
      for (const variant of isLong ? [0] : [0, 1, 2]) {
        if (at++ % oneIn !== 0) continue;
        const chance = new Chance(seedOf(`${operation.id} ${variant} ${name}`));
        const scope = isLong ? { ...WHOLE_FIGURE, ...PART_OF_LONG } : variant === 0 ? WHOLE_FIGURE : scopeFor(shot, chance);
        marks[`${operation.id} ${variant} of ${name}`] = await markRun(operation, shot, scope, variant === 0 ? null : chance);
      }
    say(name);
  }
  return marks;
}
