import { readBvh } from "../packages/core/src/formats/bvhRead.ts";
import { countKeys } from "../packages/core/src/model/shot.ts";
import { sharedExtremes } from "../packages/core/src/curve/extremes.ts";
import { fitSamples } from "../packages/core/src/curve/fit/fitSamples.ts";
import { noContext, WHOLE_FIGURE } from "../packages/core/src/operations/operation.ts";
import { simplify } from "../packages/core/src/operations/clean/simplify.ts";
import { captureBytes } from "./capture.ts";
import { atMost, medianRun, type Row } from "./measure.ts";
import { quietRounds } from "./steadiness.ts";

/** Lower bounds of any piecewise cubic on these curves, from an exhaustive search elsewhere. */
const BOUNDS: Readonly<Record<string, number>> = { "0.1": 20022, "0.5": 6750, "2": 2354 };

/** Keys that were left by the method before, in the same run of the same operation. */
const BEFORE = { control: 28_353 };

/** A run on a quiet machine where that can be had, after one that teaches the engine. */
async function taught<Value>(work: () => Promise<Value>): Promise<Value> {
  await work();
  return (await quietRounds(1, work)).at(-1) as Value;
}

/** Milliseconds and keys that are asked. */
const LIMITS: Readonly<Record<string, readonly [ms: number, keys: number]>> = {
  "broken 0.1": [500, 26_542],
  "broken 0.5": [500, 8_639],
  "broken 2": [500, 2_995],
  "unbroken 0.1": [1200, 31_000],
  "unbroken 0.5": [900, 10_050],
  "unbroken 2": [800, 3_500],
};

export async function benchSimplify(): Promise<Row[]> {
  const { shot } = readBvh({ bytes: captureBytes, name: "capture" });
  const curves = Object.values(shot.base);
  const keys = (tolerance: number, broken: boolean, peaks = false) => {
    let total = 0;
    for (const curve of curves) {
      const input = { samples: curve.values, tolerance };
      const protect = peaks ? sharedExtremes([input], 4) : [];
      total += curve.times.length === 1 ? 1 : fitSamples([input], { broken, protect }).at.length;
    }
    return total;
  };
  const rows: Row[] = [];
  for (const broken of [true, false])
    for (const tolerance of [0.1, 0.5, 2]) {
      const fit = await medianRun(() => keys(tolerance, broken));
      const left = keys(tolerance, broken);
      const kind = broken ? "broken tangents allowed" : "unbroken tangents";
      const work = `Simplify 96 curves alone within ${tolerance}, ${kind}`;
      const [limit, most] = LIMITS[`${broken ? "broken" : "unbroken"} ${tolerance}`];
      const note = `${countKeys(shot.base)} keys → ${left}; ${(left / BOUNDS[String(tolerance)]).toFixed(2)} × the lower bound`;
      const row = atMost(work, fit, limit, note);
      rows.push({ ...row, target: `${row.target}, at most ${most} keys`, met: row.met && left <= most });
    }
  const fit = await medianRun(() => keys(0.5, false, true));
  const peaks = atMost("Simplify 96 curves alone within 0.5, unbroken, with a key on every peak (as it comes)", fit, 900);
  const left = keys(0.5, false, true);
  rows.push({
    ...peaks,
    target: `${peaks.target}, at most 12 000 keys`,
    met: peaks.met && left <= 12_000,
    note: `${countKeys(shot.base)} keys → ${left}`,
  });
  const simplified = async (given: object) => {
    const start = performance.now();
    const { report } = await simplify.run(shot, WHOLE_FIGURE, { ...simplify.settings.parse({}), ...given }, noContext);
    return { ms: performance.now() - start, report };
  };
  // What they took before keys were chosen by exact sets of states.
  const control = await taught(() => simplified({ extremes: false }));
  const joined = atMost("Simplify across controls at 0.5, unbroken, the whole operation", control.ms, 2000);
  const most = Math.round(0.88 * BEFORE.control);
  const { keysBefore, keysAfter } = control.report;
  rows.push({
    ...joined,
    target: `${joined.target}, at most ${most} keys (12 % fewer than before)`,
    met: joined.met && keysAfter <= most,
    note: `${keysBefore} keys → ${keysAfter}`,
  });
  const space = await taught(() => simplified({ measure: "space", space: 0.3, together: "curve" }));
  const note = `${keysBefore} keys → ${space.report.keysAfter}, with unbroken tangents; ${space.report.notes[0]}`;
  rows.push(atMost("Simplify in space, ends within 0.3 units (1 % of the height), each curve alone", space.ms, 1200, note));
  return rows;
}
