import fc from "fast-check";
import { Quaternion, QuaternionLinearInterpolant } from "three";
import { sampleCurve } from "../../src/curve/track.ts";
import { exactTurns } from "../../src/formats/gltf/exactKeys.ts";
import { TURN_TOLERANCE, turnCurves } from "../../src/formats/gltf/turns.ts";
import { DEG, quatAngle, quatFromEuler, quatMultiply, rotationOrders } from "../../src/maths/rotation.ts";
import { makeControl, rotateChannels } from "../../src/model/rig.ts";

const turn = fc
  .tuple(
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: 0.2, max: 1, noNaN: true }),
  )
  .map((q) => q.map((value) => value / Math.hypot(...q)));

const anyTrack = fc.record({
  gaps: fc.array(fc.integer({ min: 1, max: 24 }), { minLength: 1, maxLength: 4 }),
  turns: fc.array(turn, { minLength: 5, maxLength: 5 }),
  rest: turn,
  order: fc.constantFrom(...rotationOrders),
});

const control = (rest: readonly number[], order: (typeof rotationOrders)[number]) =>
  makeControl("neck", { restTurn: rest as unknown as [number, number, number, number], order });

/** The turn of a control at a time from three curves. */
function turned(made: Record<string, Parameters<typeof sampleCurve>[0]>, one: ReturnType<typeof control>, time: number): number[] {
  const [x, y, z] = rotateChannels.map((channel) => sampleCurve(made[`neck.${channel}`], time) * DEG);
  const q = [0, 0, 0, 0];
  quatFromEuler(q, 0, x, y, z, one.order);
  quatMultiply(q, 0, [...one.restTurn], 0, q, 0);
  return q;
}

test("LINEAR keys keep their times, and their path within 0.01° of three's, at fractional frames", () => {
  let kept = 0;
  let quick = 0;
  fc.assert(
    fc.property(anyTrack, ({ gaps, turns, rest, order }) => {
      const times = Float64Array.from([0, ...gaps].map((_, i) => 1 + gaps.slice(0, i).reduce((a, b) => a + b, 0)));
      const values = Float64Array.from(times.length ? turns.slice(0, times.length).flat() : []);
      const one = control(rest, order);
      const { curves, kept: how } = turnCurves(one, { kind: "LINEAR", times, values, fps: 24 });
      const own = [...curves["neck.rotateX"].times];
      for (const time of times) expect(own).toContain(time);
      if (how === "too quick") quick++;
      if (how === "keys") {
        kept++;
        expect(own).toEqual([...times]);
      }
      const three = new QuaternionLinearInterpolant([...times], [...values], 4, new Float64Array(4) as never);
      const at = (time: number) => [...(three.evaluate(time) as unknown as number[])];
      for (let time = times[0]; time <= times[times.length - 1]; time += 0.25) {
        // Where a turn is too quick within a frame, it is said, and the frames hold.
        if (how === "too quick" && time % 1 > 1e-9) continue;
        expect(quatAngle(turned(curves, one, time), 0, at(time), 0)).toBeLessThan(TURN_TOLERANCE * 1.1);
      }
    }),
    { numRuns: 60, seed: 12 },
  );
  expect(kept).toBeGreaterThan(0);
  expect(quick).toBeLessThan(40);
});

test("turns about one axis go over and back key for key, in both kinds", () => {
  const one = control([0, 0, 0, 1], "XYZ");
  const times = Float64Array.of(1, 9, 21);
  const values = Float64Array.from([0, 20, 75].flatMap((degrees) => [Math.sin((degrees * DEG) / 2), 0, 0, Math.cos((degrees * DEG) / 2)]));
  const { curves, kept } = turnCurves(one, { kind: "LINEAR", times, values, fps: 24 });
  expect(kept).toBe("keys");
  expect([...curves["neck.rotateX"].values]).toEqual([0, expect.closeTo(20, 9), expect.closeTo(75, 9)]);
  const back = exactTurns(
    one,
    rotateChannels.map((channel) => curves[`neck.${channel}`]),
    24,
  );
  expect(back?.keys.kind).toBe("LINEAR");
  expect([...(back?.values ?? [])].map((value) => Math.round(value * 1e6))).toEqual(
    [...values].map((value) => Math.round(Math.fround(value) * 1e6)),
  );
});

test("a spline in quaternions is the one glTF describes, and comes back as keys", () => {
  const one = control([0, 0, 0, 1], "YXZ");
  const times = Float64Array.of(1, 13, 25);
  const q = (degrees: number) => new Quaternion().setFromAxisAngle({ x: 0, y: 1, z: 0 } as never, degrees * DEG).toArray();
  const still = [0, 0, 0, 0];
  const values = Float64Array.from([0, 40, 15].flatMap((degrees) => [...still, ...q(degrees), ...still]));
  const { curves } = turnCurves(one, { kind: "CUBICSPLINE", times, values, fps: 24 });
  // Between keys without tangents a cubic is 3x²−2x³ of the way, component by component (glTF 2.0, appendix C).
  for (const x of [0.25, 0.5, 0.8]) {
    const share = 3 * x * x - 2 * x * x * x;
    const mixed = q(0).map((value, k) => value * (1 - share) + q(40)[k] * share);
    const length = Math.hypot(...mixed);
    expect(
      quatAngle(
        turned(curves, one, 1 + 12 * x),
        0,
        mixed.map((value) => value / length),
        0,
      ),
    ).toBeLessThan(TURN_TOLERANCE);
  }
});
