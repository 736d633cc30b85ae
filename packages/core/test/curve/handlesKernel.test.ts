import { curveFromKeys } from "../../src/curve/make.ts";
import { Tangent, THIRD, type Curve } from "../../src/curve/curve.ts";
import { sampleCurve, sampleInto } from "../../src/curve/track.ts";
import { Chance } from "../help/chance.ts";

/*
 * Many values at once of curves with weighted handles are worked out in WebAssembly: against each value asked for alone, which
 * is solved in TypeScript and held against bezier-easing and CSS's own easing elsewhere.
 */

/** Some keys with plain, weighted, straight and held segments; weights from none to all of the segment. */
function weightedCurve(chance: Chance): Curve {
  let time = chance.between(-20, 5);
  const weight = () => chance.of([0, 1, THIRD, 0.999, chance.next(), chance.next()]);
  const kind = () => chance.of([Tangent.free, Tangent.free, Tangent.free, Tangent.linear, Tangent.stepped]);
  const keys = Array.from({ length: 2 + Math.floor(chance.between(0, 9)) }, () => {
    time += chance.of([1, 7, chance.between(0.01, 30)]);
    return {
      time,
      value: chance.between(-90, 90),
      slopeIn: chance.between(-9, 9),
      slopeOut: chance.between(-9, 9),
      weightIn: weight(),
      weightOut: weight(),
      kindIn: kind(),
      kindOut: kind(),
    };
  });
  const run = () => ({ kind: chance.of(["hold", "hold", "repeat", "travel"] as const), rounds: 0 });
  return { ...curveFromKeys(keys), runIn: run(), runOut: run() };
}

test("many values at once are, to the last place, those asked for one by one", () => {
  for (let n = 0; n < 400; n++) {
    const chance = new Chance(n);
    const curve = weightedCurve(chance);
    const start = chance.between(-60, 20);
    const step = chance.of([0.25, 1, chance.between(0.003, 4)]);
    const count = 48 + (n % 5) * 37;
    const filled = sampleInto(curve, start, step, new Float64Array(count));
    const alone = Float64Array.from(filled, (_, i) => sampleCurve(curve, start + i * step));
    expect(filled).toEqual(alone);
  }
}, 60_000);

test("the same without WebAssembly, and where its memory cannot grow", async () => {
  const curves = Array.from({ length: 20 }, (_, n) => weightedCurve(new Chance(n + 900)));
  const fill = (into: typeof sampleInto, count: number) => curves.map((curve) => into(curve, -30, 0.31, new Float64Array(count)));
  const wanted = [400, 12_000].map((count) => fill(sampleInto, count));
  const known = globalThis.WebAssembly;
  const { grow } = WebAssembly.Memory.prototype;
  try {
    Object.assign(globalThis, { WebAssembly: undefined });
    await jest.isolateModulesAsync(async () => {
      const { sampleInto: without } = await import("../../src/curve/track.ts");
      expect(fill(without, 400)).toEqual(wanted[0]);
    });
    Object.assign(globalThis, { WebAssembly: known });
    WebAssembly.Memory.prototype.grow = () => {
      throw new RangeError("no memory");
    };
    await jest.isolateModulesAsync(async () => {
      const { sampleInto: tight } = await import("../../src/curve/track.ts");
      expect(fill(tight, 12_000)).toEqual(wanted[1]);
      expect(fill(tight, 400)).toEqual(wanted[0]);
    });
  } finally {
    Object.assign(globalThis, { WebAssembly: known });
    WebAssembly.Memory.prototype.grow = grow;
  }
}, 60_000);
