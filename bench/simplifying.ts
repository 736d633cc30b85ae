import { readBvh } from "../packages/core/src/formats/bvhRead.ts";
import { countKeys } from "../packages/core/src/model/shot.ts";
import { sharedExtremes } from "../packages/core/src/curve/extremes.ts";
import { fitSamples } from "../packages/core/src/curve/fit/fitSamples.ts";
import { noContext, WHOLE_FIGURE } from "../packages/core/src/operations/operation.ts";
import { simplify } from "../packages/core/src/operations/clean/simplify.ts";
import { captureBytes } from "./capture.ts";
import { atMost, medians, type Row } from "./measure.ts";

/** Lower bounds of any piecewise cubic on these curves, from an exhaustive search elsewhere. */
const BOUNDS: Readonly<Record<string, number>> = { "0.1": 20022, "0.5": 6750, "2": 2354 };

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
      const { fit } = await medians({ fit: () => keys(tolerance, broken) }, 1200);
      const left = keys(tolerance, broken);
      const kind = broken ? "broken tangents allowed" : "unbroken tangents";
      const work = `Simplify 96 curves alone within ${tolerance}, ${kind}`;
      const note = `${countKeys(shot.base)} keys → ${left}; ${(left / BOUNDS[String(tolerance)]).toFixed(2)} × the lower bound`;
      if (tolerance !== 0.5) rows.push({ work, ms: fit, note });
      else {
        const most = broken ? 8900 : 14000;
        const row = atMost(work, fit, 500, note);
        rows.push({ ...row, target: `${row.target}, at most ${most} keys`, met: row.met && left <= most });
      }
    }
  const { fit } = await medians({ fit: () => keys(0.5, false, true) }, 1200);
  const left = keys(0.5, false, true);
  const row = atMost("Simplify 96 curves alone within 0.5, unbroken, with a key on every peak (as it comes)", fit, 500);
  rows.push({
    ...row,
    target: `${row.target}, at most 14000 keys`,
    met: row.met && left <= 14000,
    note: `${countKeys(shot.base)} keys → ${left}`,
  });
  const space = { ...simplify.settings.parse({}), measure: "space", space: 0.3, together: "curve" } as const;
  const start = performance.now();
  const { report } = await simplify.run(shot, WHOLE_FIGURE, space, noContext);
  rows.push({
    work: "Simplify in space, ends within 0.3 units (1 % of the height), each curve alone",
    ms: performance.now() - start,
    note: `${report.keysBefore} keys → ${report.keysAfter}, with unbroken tangents; ${report.notes[0]}`,
  });
  return rows;
}
