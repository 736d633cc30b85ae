import fc from "fast-check";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { addSample, type CurveSlope, makeCurveSlope, settleSlope } from "../../src/curve/curveSlope.ts";
import { settle } from "../../src/curve/tangents.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { anyCurve, anyLoop } from "../help/random.ts";

type Column = keyof CurveSlope;

/** Central difference of a sample, with one number of the curve moved and the tangents settled anew. */
function difference(curve: Curve, column: Column, i: number, time: number): number {
  const step = 1e-5;
  const moved = (by: number) => {
    const numbers = curve[column].slice();
    numbers[i] += by;
    return sampleCurve(settle({ ...curve, [column]: numbers }), time);
  };
  return (moved(step) - moved(-step)) / (2 * step);
}

/** Is a curve smooth in its keys there: no hold's edge, no seam of rounds, no auto tangent about to level? */
function isCalm(curve: Curve, time: number): boolean {
  const { times, values, kindIn, kindOut } = curve;
  const span = times[times.length - 1] - times[0];
  const folded = span > 0 ? (((time - times[0]) % span) + span) % span : 0;
  const nearSeam = Math.min(folded, span - folded) < 1e-2 || times.some((at) => Math.abs(at - time) < 1e-2);
  const hasAuto = [...kindIn, ...kindOut].includes(Tangent.auto);
  const levels = hasAuto && values.some((value, i) => i > 0 && Math.abs(values[i - 1] - value) < 1e-2);
  return !nearSeam && !levels;
}

const columns: readonly Column[] = ["values", "times", "slopeIn", "slopeOut", "weightIn", "weightOut"];

function isDerived(curve: Curve, column: Column, i: number): boolean {
  if (column === "slopeIn") return curve.kindIn[i] !== Tangent.free;
  if (column === "slopeOut") return curve.kindOut[i] !== Tangent.free;
  if (column === "weightIn") return curve.kindIn[i] === Tangent.auto;
  return column === "weightOut" && curve.kindOut[i] === Tangent.auto;
}

test.each([
  ["any curve", anyCurve, 0],
  ["any curve with rounds, outside its keys too", anyLoop, 80],
] as const)("%s: how a sample changes with each number of the keys, as central differences have it", (_, any, beyond) => {
  let looked = 0;
  fc.assert(
    fc.property(any, fc.integer({ min: 1, max: 9999 }), (curve, tenThousandths) => {
      const { times } = curve;
      const time = times[0] - beyond + (tenThousandths / 10_000) * (times[times.length - 1] - times[0] + 2 * beyond);
      if (!isCalm(curve, time)) return;
      const slope = makeCurveSlope(times.length);
      addSample(slope, curve, time, 1);
      settleSlope(slope, curve);
      const size = 1 + Math.max(...curve.values.map(Math.abs), ...curve.slopeIn.map(Math.abs), ...curve.slopeOut.map(Math.abs));
      for (const column of columns)
        for (let i = 0; i < times.length; i++) {
          if (isDerived(curve, column, i)) continue;
          // Where the first or last key is moved in time, what is folded jumps a round.
          if (beyond > 0 && column === "times" && (time < times[0] || time > times[times.length - 1])) continue;
          looked++;
          expect(Math.abs(slope[column][i] - difference(curve, column, i, time)) / size).toBeLessThan(1e-5);
        }
    }),
    { numRuns: 400, seed: 3 },
  );
  expect(looked).toBeGreaterThan(1000);
});

test("two samples add up, each in its proportion", () => {
  const curve = fc.sample(anyCurve, { numRuns: 1, seed: 5 })[0];
  const [a, b, both] = [0, 0, 0].map(() => makeCurveSlope(curve.times.length));
  const [early, late] = [curve.times[0] + 0.3, curve.times[curve.times.length - 1] - 0.4];
  addSample(a, curve, early, 1);
  addSample(b, curve, late, 1);
  addSample(both, curve, early, 2);
  addSample(both, curve, late, -3);
  for (const column of columns)
    for (const [i, one] of both[column].entries()) expect(one).toBeCloseTo(2 * a[column][i] - 3 * b[column][i], 9);
});
