import { KneaderError } from "../../src/errors.ts";
import { checkShot } from "../../src/formats/checkShot.ts";
import type { Shot } from "../../src/model/shot.ts";
import { catalogue, checkSettings, settingsSchema } from "../../src/operations/catalogue.ts";
import { liftKeys } from "../../src/operations/timing/liftKeys.ts";
import { noContext, type Operation, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { actionOf } from "./actions.ts";
import { Chance } from "./chance.ts";
import { everything, HANGS, mustPlay } from "./fuzz.ts";

export interface Property {
  readonly type?: string;
  readonly enum?: readonly string[];
  readonly default?: unknown;
  readonly minimum?: number;
  readonly maximum?: number;
}

const numbers = [0, 1, -1, 0.5, 2.5, 13, 49, 60, -20, 1e6, -1e9, 1e15, 1e300, Number.NaN, Number.POSITIVE_INFINITY, 2 ** 53];
const texts = ["", "2", "2 2 3", "hold 4 · 3", "6 4 3", "1 13 25", "root", "moon", "__proto__", "x".repeat(5000)];

function settingOf(name: string, property: Property, shot: Shot, chance: Chance): unknown {
  if (name === "keys" && property.type === undefined)
    return chance.next() < 0.9 ? liftKeys(shot, { ...WHOLE_FIGURE, range: { start: 3, end: 20 } }) : chance.of([null, "", "{}"]);
  if (name === "action") return chance.next() < 0.9 ? actionOf(shot, 1, 20) : chance.of([null, {}, { curves: {} }]);
  if (chance.next() < 0.5) return property.default;
  if (property.enum) return chance.next() < 0.95 ? chance.of(property.enum) : "other";
  if (property.type === "number" || property.type === "integer") return chance.of([...numbers, property.minimum, property.maximum]);
  if (property.type === "boolean") return chance.next() < 0.5;
  if (property.type === "array") return chance.of([[], [1, 13, 25], [1e9], ["root.moveX"], [Number.NaN], "no"]);
  return chance.of(texts);
}

function scopeOf(chance: Chance): Scope {
  const frames = [1, 5, 13, 25, 49, -30, 60, 12.5, 1e9, -1e300, Number.NaN, Number.POSITIVE_INFINITY];
  const some = <Value>(value: Value, share: number): Value | null => (chance.next() < share ? value : null);
  return {
    controls: some(chance.of([["spine"], ["root", "arm-left", "hand-left"], [], ["moon"], ["__proto__"]]), 0.4),
    channels: some(chance.of([["spine.rotateX"], [], ["moon.rotateX"], ["constructor"]]), 0.2),
    keys: some(
      chance.of<NonNullable<Scope["keys"]>>([{ "spine.rotateX": [1, 13] }, { "spine.rotateX": [7, Number.NaN] }, {}, { "moon.x": [1] }]),
      0.25,
    ),
    range: some({ start: chance.of(frames), end: chance.of(frames) }, 0.5),
    layer: chance.of(["base", "base", "base", "a", "tremor", "stepping", "gone"]),
  };
}

export interface FuzzedRuns {
  done: number;
  refused: number;
  slowest: number;
  readonly faults: { readonly n: number; readonly operation: string; readonly what: string }[];
}

/** Run operations with scopes and settings by chance: they do it, or refuse in a sentence; what they make can be played and kept. */
export async function fuzzOperations(from: number, count: number, patience = HANGS): Promise<FuzzedRuns> {
  const result: FuzzedRuns = { done: 0, refused: 0, slowest: 0, faults: [] };
  const shot = everything();
  for (let n = from; n < from + count; n++) {
    const chance = new Chance(n + 77);
    const operation = catalogue[n % catalogue.length] as Operation;
    const { properties = {} } = settingsSchema(operation) as { properties?: Record<string, Property> };
    const given = Object.fromEntries(Object.entries(properties).map(([name, property]) => [name, settingOf(name, property, shot, chance)]));
    const scope = scopeOf(chance);
    const started = performance.now();
    try {
      const outcome = await runOperation(operation, shot, scope, checkSettings(operation, given), noContext);
      result.done++;
      checkShot(outcome.shot);
      mustPlay(outcome.shot);
      if (/NaN|undefined|Infinity/.test(outcome.report.summary)) throw new Error(`It says: ${outcome.report.summary}`);
    } catch (error) {
      result.refused++;
      const isOurs = error instanceof KneaderError && error.code !== "shot-data";
      if (!isOurs || /NaN|undefined/.test(error.message))
        result.faults.push({
          n,
          operation: operation.id,
          what: `${String((error as Error)?.stack ?? error).slice(0, 500)}\n${JSON.stringify({ ...given, keys: undefined, action: undefined })} ${JSON.stringify(scope)}`,
        });
    }
    const took = performance.now() - started;
    result.slowest = Math.max(result.slowest, took);
    if (took > patience)
      result.faults.push({
        n,
        operation: operation.id,
        what: `took ${Math.round(took)} ms with ${JSON.stringify({ ...given, keys: undefined, action: undefined })} ${JSON.stringify(scope)}`,
      });
  }
  return result;
}
