import { KneaderError } from "../../src/errors.ts";
import { checkShot } from "../../src/formats/checkShot.ts";
import { formats } from "../../src/formats/formats.ts";
import type { Shot } from "../../src/model/shot.ts";
import { catalogue, checkSettings, settingsSchema } from "../../src/operations/catalogue.ts";
import { commit, currentShot, redo, startHistory, undo } from "../../src/operations/history.ts";
import { type Operation, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { liftKeys } from "../../src/operations/timing/liftKeys.ts";
import { actionOf } from "./actions.ts";
import { Chance } from "./chance.ts";
import { everything } from "./fuzz.ts";
import type { Property } from "./fuzzOperations.ts";

/** Steps of a chain, and how often what they made is exported. */
const STEPS = 50;
const EXPORTED_EACH = 10;
/** Whoever waits stops it after so long (milliseconds); it must hear that within as long again. */
const PATIENCE = 10_000;

/** Keys that were copied before anything happened to them. */
const COPIED = liftKeys(everything(), WHOLE_FIGURE);

/** A setting as its schema allows it: mostly what is proposed or moderate, now and then as small or large as may be. */
function legal(name: string, property: Property, shot: Shot, chance: Chance): unknown {
  if (name === "keys" && property.type === undefined) return COPIED;
  if (name === "action") return actionOf(shot, shot.range.start, Math.min(shot.range.end, shot.range.start + 10));
  if (property.enum) return chance.of(property.enum);
  if (property.type === "boolean") return chance.next() < 0.5;
  if (property.type !== "number" && property.type !== "integer") return property.default;
  const low = property.minimum ?? -1000;
  const high = Math.min(property.maximum ?? 1000, 1e6);
  if (chance.next() < 0.3) return property.default;
  const value = chance.next() < 0.1 ? chance.of([low, high]) : low + (high - low) * chance.next() ** 3;
  return property.type === "integer" ? Math.round(value) : value;
}

export interface FuzzedChains {
  steps: number;
  refused: number;
  /** Stopped, as they took longer than anybody waits. */
  stopped: number;
  readonly faults: string[];
}

/**
 * One chain of legal steps by chance, undone to its beginning and done again: what it makes can be kept, played and exported
 * throughout. It ends early at a time (`performance.now()`).
 */
export async function fuzzChain(seed: number, end = Number.POSITIVE_INFINITY): Promise<FuzzedChains> {
  const result: FuzzedChains = { steps: 0, refused: 0, stopped: 0, faults: [] };
  const chance = new Chance(seed * 7919 + 3);
  const able = catalogue.filter(({ id }) => id !== "tune");
  let history = startHistory(everything(), 0);
  for (let n = 0; n < STEPS && performance.now() < end; n++) {
    const shot = currentShot(history);
    const operation = chance.of(able) as Operation;
    const { properties = {} } = settingsSchema(operation) as { properties?: Record<string, Property> };
    const given = Object.fromEntries(Object.entries(properties).map(([name, property]) => [name, legal(name, property, shot, chance)]));
    const some = [chance.of(shot.rig.controls).id, chance.of(shot.rig.controls).id];
    const layer = chance.next() < 0.8 ? "base" : chance.of(["base", ...shot.passes.map(({ id }) => id)]);
    const scope: Scope = { ...WHOLE_FIGURE, controls: chance.next() < 0.7 ? null : some, layer };
    const began = performance.now();
    const breathe = async () => {
      if (performance.now() - began > PATIENCE) throw new KneaderError("cancelled", "Stopped.");
    };
    const fault = (what: string) =>
      result.faults.push(
        `chain ${seed}, step ${n} (${operation.id}): ${what}\n${JSON.stringify({ ...given, keys: 0, action: 0 })} ${JSON.stringify(scope)}`,
      );
    let took: number | null = null;
    try {
      const outcome = await runOperation(operation, shot, scope, checkSettings(operation, given), { breathe });
      took = performance.now() - began;
      result.steps++;
      checkShot(outcome.shot);
      history = commit(history, { name: operation.id, shot: outcome.shot, at: n });
      if (n % EXPORTED_EACH === EXPORTED_EACH - 1) for (const format of formats) await format.write(outcome.shot, {});
    } catch (error) {
      if (error instanceof KneaderError && error.code === "cancelled") result.stopped++;
      else result.refused++;
      if (!(error instanceof KneaderError) || error.code === "shot-data") fault(String((error as Error)?.stack ?? error).slice(0, 500));
      else if (/NaN|undefined|Infinity/.test(error.message)) fault(`it says: ${error.message}`);
    }
    console.log(
      n,
      operation.id,
      Math.round(performance.now() - began),
      currentShot(history).range,
      currentShot(history).rig.controls.length,
      JSON.stringify(given).slice(0, 150),
    );
    took ??= performance.now() - began;
    if (took > 2 * PATIENCE) fault(`took ${Math.round(took)} ms`);
  }
  const [first, last] = [history.steps[0].shot, currentShot(history)];
  for (const _ of history.steps) history = undo(history);
  if (currentShot(history) !== first) result.faults.push(`chain ${seed}: undone, it is not as it was`);
  for (const _ of history.steps) history = redo(history);
  if (currentShot(history) !== last) result.faults.push(`chain ${seed}: done again, it is other than it was`);
  return result;
}
