import * as fc from "fast-check";
import type { Curve } from "../../src/curve/curve.ts";
import type { Shot } from "../../src/model/shot.ts";
import { bakeDown } from "../../src/operations/spaces/bakeDown.ts";
import { switchSpace } from "../../src/operations/spaces/switchSpace.ts";
import { apart, worldOf } from "../help/posed.ts";
import { passFor } from "../help/passes.ts";
import { anyLoop } from "../help/random.ts";
import { run } from "../help/run.ts";
import { movingShot, passOf } from "../help/shots.ts";

/*
 * What a switch and a bake promise, on curves by chance: every kind of tangent, stepped keys, keys between frames, rounds
 * that run out past the keys, passes on solo.
 */

const channels = ["hand-left.moveX", "hand-left.rotateX", "hand-left.rotateZ", "arm-left.rotateY"];
const curves = fc.tuple(...channels.map(() => anyLoop));
const withCurves = (given: readonly Curve[], more: Partial<Shot> = {}): Shot => {
  const shot = movingShot(more);
  return { ...shot, base: { ...shot.base, ...Object.fromEntries(channels.map((key, n) => [key, given[n]])) } };
};
/** A curve that repeats for ever on one side only takes no key there, and it is said; anything else that is thrown is amiss. */
const unlessRefused = (given: Promise<{ shot: Shot }>): Promise<Shot | null> =>
  given.then(
    ({ shot }) => shot,
    (error: unknown) => {
      if (/repeats for ever/.test(String(error))) return null;
      throw error;
    },
  );
const hand = { controls: ["hand-left"] };

test("a switch keeps every whole frame before it, and the frame itself; on every frame all after it", async () => {
  await fc.assert(
    fc.asyncProperty(curves, fc.integer({ min: 2, max: 48 }), fc.constantFrom("own", "every"), async (given, frame, keys) => {
      const shot = withCurves(given);
      const after = await unlessRefused(run(switchSpace, shot, { space: "*world", frame, keys }, hand));
      if (!after) return;
      const last = keys === "every" ? 49 : frame;
      for (let at = 1; at <= last; at++) {
        // Where a step falls on a whole frame, on which side of it the frame is is a matter of rounding.
        if (apart(worldOf(shot, "hand-left", at - 1e-6), worldOf(shot, "hand-left", at + 1e-6)) > 1e-3) continue;
        expect(apart(worldOf(after, "hand-left", at), worldOf(shot, "hand-left", at))).toBeLessThan(1e-7);
      }
    }),
    { numRuns: 40 },
  );
});

test("a bake on every frame differs at none, whatever passes are alone or hold time", async () => {
  await fc.assert(
    fc.asyncProperty(curves, fc.boolean(), fc.boolean(), async (given, solo, holds) => {
      const adds = { ...passOf("adds", { "spine.rotateX": given[0] }), solo };
      const other = { ...passOf("adds", { "hand-left.rotateY": given[1] }), id: "other", on: solo };
      const twos = holds ? [passFor("stepping", { pattern: [2], frames: null, rides: null })] : [];
      const shot = withCurves(given, { passes: [adds, other, ...twos.map((pass) => ({ ...pass, solo }))] });
      const lived = await unlessRefused(run(switchSpace, shot, { space: "root", frame: 20, keys: "every" }, hand));
      if (!lived) return;
      const { shot: baked } = await run(bakeDown, lived, { what: "all", keys: "every" }, hand);
      for (let at = 1; at <= 49; at++) expect(apart(worldOf(baked, "hand-left", at), worldOf(lived, "hand-left", at))).toBeLessThan(1e-7);
    }),
    { numRuns: 25 },
  );
});
