import fc from "fast-check";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Shot } from "../../src/model/shot.ts";
import { keyResult } from "../../src/operations/shared/keyResult.ts";
import { anyCurve } from "../help/random.ts";
import { movingShot, passOf } from "../help/shots.ts";

const valueAt = (shot: Shot, key: string, frame: number) => {
  const player = makePlayer(shot);
  player.readValues(frame);
  return player.values[player.channelIndex.get(key) as number];
};
const lean = (more: object = {}) => passOf("adds", { "spine.rotateX": constantCurve(5) }, { id: "lean", ...more });

test.each([
  ["an adding pass", lean()],
  ["one at 40 %", lean({ weight: constantCurve(0.4) })],
  ["one composed as rotations", lean({ compose: "rotation" })],
  ["a replacing pass at 70 %", passOf("replaces", { "spine.rotateX": constantCurve(5) }, { id: "lean", weight: constantCurve(0.7) })],
  ["a pass without a key there yet", passOf("adds", {}, { id: "lean" })],
])("dragged to a value the result is that value, and the difference is in the chosen layer: %s", (_, pass) => {
  const shot = movingShot({ passes: [pass, passOf("adds", { "spine.rotateX": constantCurve(3) }, { id: "above" })] });
  const after = keyResult(shot, "lean", 20, { "spine.rotateX": 33 });
  expect(valueAt(after, "spine.rotateX", 20)).toBeCloseTo(33, 4);
  expect(after.base).toBe(shot.base);
  expect(after.passes[1]).toBe(shot.passes[1]);
});

test("into base motion too, below all passes", () => {
  const shot = movingShot({ passes: [lean()] });
  const after = keyResult(shot, "base", 20, { "spine.rotateX": -12 });
  expect(valueAt(after, "spine.rotateX", 20)).toBeCloseTo(-12, 6);
  expect(after.passes).toBe(shot.passes);
});

test("where the layer has no say, nothing is keyed and it is said", () => {
  expect(() => keyResult(movingShot({ passes: [lean({ on: false })] }), "lean", 20, { "spine.rotateX": 9 })).toThrow(/would not be seen/);
  const hidden = movingShot({ passes: [lean(), passOf("replaces", { "spine.rotateX": constantCurve(1) }, { id: "top" })] });
  expect(() => keyResult(hidden, "lean", 20, { "spine.rotateX": 9 })).toThrow(/replaced above/);
  expect(() => keyResult(movingShot(), "base", 20, { "nobody.rotateX": 9 })).toThrow(/no channel/);
});

describe("a nudge within a span", () => {
  const span = { start: 10, end: 30 };

  // A key that is stepped on its near side owns the whole gap before it, the first frame too.
  const plainCurve = anyCurve.filter(({ kindIn }) => !kindIn.includes(Tangent.stepped));

  test("property: whatever the pass had, at the ends and outside everything is as it was", () => {
    fc.assert(
      fc.property(fc.option(plainCurve), fc.constantFrom("adds" as const, "replaces" as const), (curve, kind) => {
        // A replacing pass without keys cannot be nudged, see below.
        const curves: Record<string, Curve> = curve || kind === "replaces" ? { "spine.rotateX": curve ?? constantCurve(4) } : {};
        const shot = movingShot({ passes: [passOf(kind, curves, { id: "lean" })] });
        const after = keyResult(shot, "lean", 20, { "spine.rotateX": 33 }, span);
        expect(valueAt(after, "spine.rotateX", 20)).toBeCloseTo(33, 4);
        for (const frame of [-5, 0, 4, 9, 9.5, 10, 30, 30.5, 36, 49, 80]) {
          const was = valueAt(shot, "spine.rotateX", frame);
          // Weighted handles find their time within 3e-10 of a segment; their slope, steep between far values, multiplies that.
          const steep = Math.max(1, ...(curve?.values ?? []).map(Math.abs), ...(curve?.slopeOut ?? []).map(Math.abs));
          expect(Math.abs(valueAt(after, "spine.rotateX", frame) - was)).toBeLessThan(1e-7 * steep);
        }
      }),
      { numRuns: 100 },
    );
  });

  test("it comes and goes softly: no slope at the ends of what was not keyed before", () => {
    const shot = movingShot({ passes: [passOf("adds", {}, { id: "lean" })] });
    const curve = keyResult(shot, "lean", 20, { "spine.rotateX": 33 }, span).passes[0].curves["spine.rotateX"];
    expect([...curve.times]).toEqual([10, 20, 30]);
    expect([curve.slopeOut[0], curve.slopeIn[2], curve.values[0], curve.values[2]]).toEqual([0, 0, 0, 0]);
  });

  test("a second nudge in the same span adds a key; at its ends or outside it is refused, as something outside would change", () => {
    const shot = movingShot({ passes: [passOf("adds", {}, { id: "lean" })] });
    const once = keyResult(shot, "lean", 20, { "spine.rotateX": 33 }, span);
    const twice = keyResult(once, "lean", 25, { "spine.rotateX": 12 }, span);
    expect([...twice.passes[0].curves["spine.rotateX"].times]).toEqual([10, 20, 25, 30]);
    for (const frame of [10, 30, 41])
      expect(() => keyResult(shot, "lean", frame, { "spine.rotateX": 33 }, span)).toThrow(
        /not between the ends of the marked range, 10–30/,
      );
  });

  test("base motion and replacing passes are nudged too: nothing outside the span changes, at any time", () => {
    for (const layer of ["base", "lean"]) {
      const shot = movingShot({ passes: [passOf("replaces", {}, { id: "lean", name: "Lean" })] });
      const after = keyResult(shot, layer, 20, { "spine.rotateX": 33 }, span);
      if (layer === "lean") expect(valueAt(after, "spine.rotateX", 20)).toBeCloseTo(33, 4);
      for (let frame = 1; frame < 49; frame += 0.37)
        if (frame <= 10 || frame >= 30)
          expect(valueAt(after, "spine.rotateX", frame)).toBeCloseTo(valueAt(shot, "spine.rotateX", frame), 9);
    }
  });

  test("a computed pass takes no keys", () => {
    const tremor = { ...passOf("adds", { "tremor.speed": curveFrom([[1, 2]]) }, { id: "t", name: "Shiver" }), kind: "tremor" };
    expect(() => keyResult(movingShot({ passes: [tremor] }), "t", 20, { "spine.rotateX": 1 })).toThrow(/"Shiver" is worked out/);
  });
});
