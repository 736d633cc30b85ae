import fc from "fast-check";
import type { Curve } from "../../src/curve/curve.ts";
import { constantCurve, linearCurve, linearFrame } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { anyCurve } from "../help/random.ts";
import { passOf, smallShot } from "../help/shots.ts";

const number = fc.double({ min: -90, max: 90, noNaN: true });

/** Captured: a linear key on each of a few dozen frames, beginning anywhere. */
const captured = fc
  .tuple(fc.integer({ min: -3, max: 20 }), fc.array(number, { minLength: 2, maxLength: 60 }))
  .map(([first, values]) => linearCurve(linearFrame(Float64Array.from(values, (_, i) => first + i)), Float64Array.from(values)));

const layer = fc.record({
  kind: fc.constantFrom<"adds" | "replaces">("adds", "replaces"),
  // Mostly captured ones, with a keyed one or one with a range now and then, above which nothing can be mixed beforehand.
  curve: fc.oneof({ weight: 4, arbitrary: captured }, { weight: 1, arbitrary: anyCurve }),
  weight: fc.oneof(fc.constantFrom(0, 1), fc.double({ min: -1, max: 2, noNaN: true })),
  range: fc.oneof(
    { weight: 4, arbitrary: fc.constant(null) },
    { weight: 1, arbitrary: fc.constant({ start: 5, end: 30, easeIn: 0, easeOut: 0 }) },
  ),
});

test("property: captured passes mixed beforehand play as if each were read frame by frame, within 1e-12 of the size", () => {
  fc.assert(
    fc.property(fc.oneof(captured, anyCurve), fc.array(layer, { maxLength: 6 }), (base, layers) => {
      const passes = layers.map(({ kind, curve, weight, range }, n) =>
        passOf(kind, { "spine.rotateX": curve }, { id: `p${n}`, weight: constantCurve(weight), range }),
      );
      const player = makePlayer(smallShot({ "spine.rotateX": base }, { passes }));
      const at = player.channelIndex.get("spine.rotateX") as number;
      const size = layers.reduce((sum, { curve, weight }) => sum * (1 + Math.abs(weight)) + largest(curve), largest(base)) + 1;
      for (const frame of [-9, 0, 1, 4.25, 5, 17.5, 30, 30.5, 31.75, 40, 63.1, 64, 99]) {
        let wanted = sampleCurve(base, frame);
        for (const { kind, curve, weight, range } of layers) {
          if (range && (frame < range.start || frame > range.end)) continue;
          const own = sampleCurve(curve, frame);
          wanted += (kind === "adds" ? own : own - wanted) * weight;
        }
        player.readValues(frame);
        expect(Math.abs(player.values[at] - wanted)).toBeLessThan(1e-12 * size);
      }
    }),
    { numRuns: 300 },
  );
});

/** A bound of a curve's values between its keys, generously. */
function largest({ times, values, slopeIn, slopeOut }: Curve): number {
  const gap = times.reduce((most, time, i) => (i === 0 ? most : Math.max(most, time - times[i - 1])), 1);
  const steep = Math.max(...[...slopeIn, ...slopeOut].map(Math.abs));
  return Math.max(...values.map(Math.abs)) + gap * steep;
}
