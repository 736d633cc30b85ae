import * as fc from "fast-check";
import { sampleCurve } from "../../src/curve/track.ts";
import { KneaderError } from "../../src/errors.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Action } from "../../src/model/action.ts";
import { layAction } from "../../src/operations/actions/layAction.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { playToKeys } from "../../src/operations/actions/playToKeys.ts";
import { constantCurve } from "../../src/curve/make.ts";
import { anyCurve, anyLoop } from "../help/random.ts";
import { run } from "../help/run.ts";
import { movingShot, passOf } from "../help/shots.ts";

/* What laying promises, on curves by chance: rounds past the keys, stepped keys, keys between frames among them. */

const KEY = "spine.rotateX";
const actionOf = (curve: Parameters<typeof sampleCurve>[0]): Action => {
  const first = curve.times[0];
  const length = curve.times[curve.times.length - 1] - first;
  const own = { ...curve, times: curve.times.map((time) => time - first) };
  const { rate, rig } = movingShot();
  const clip = { rate, from: 0, length, whole: false, curves: { [KEY]: own }, controls: rig.controls, figure: null };
  return { card: { id: "a", name: "A", notes: "", tags: [], folder: "", savedAt: 0 }, clip };
};

/** A curve that goes on for ever on one side takes no key there, and says so. */
async function orRefused<Value>(work: Promise<Value>): Promise<Value | null> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof KneaderError && /repeats for ever/.test(error.message)) return null;
    throw error;
  }
}

test("laid in place of what a span held, the motion up to a frame beside it stays what it was", async () => {
  await fc.assert(
    fc.asyncProperty(anyLoop, anyCurve, fc.integer({ min: 1, max: 60 }), async (present, laid, at) => {
      // What goes on for ever takes the action into its cycle, and the report says that rounds became keys.
      if ([present.runIn, present.runOut].some(({ kind, rounds }) => kind !== "hold" && rounds === 0)) return;
      const shot = movingShot({ base: { ...movingShot().base, [KEY]: present }, range: { start: 1, end: 120 } });
      const action = actionOf(laid);
      const done = await orRefused(run(layAction, shot, { action, at }));
      if (!done) return;
      const after = done.shot.base[KEY];
      const end = at + action.clip.length;
      const near = (time: number) => Math.abs(sampleCurve(after, time) - sampleCurve(present, time)) < 1e-6;
      const jumps = (time: number) => Math.abs(sampleCurve(present, time - 1e-5) - sampleCurve(present, time + 1e-5)) > 1e-2;
      // Beyond the last key of the shot it holds where the action ends, as after any last key; so before the first.
      const [first, last] = [after.times[0], after.times[after.times.length - 1]];
      for (let frame = 1; frame <= 120; frame++) {
        const isBefore = frame < at - 1 && first < at - 1;
        const isAfter = frame > end + 1 && last > end + 1;
        // Rounds play what is in their cycle now.
        const isKeyed = frame >= present.times[0] && frame <= present.times[present.times.length - 1];
        if (isKeyed && (isBefore || isAfter) && !jumps(frame)) expect([frame, near(frame)]).toEqual([frame, true]);
      }
      for (const u of [0, 0.3, 0.71, 1]) {
        const time = u * action.clip.length;
        if (jumpsIn(action, time)) continue;
        expect(sampleCurve(after, at + time)).toBeCloseTo(sampleCurve(action.clip.curves[KEY], time), 5);
      }
    }),
    { numRuns: 80 },
  );
});

const jumpsIn = (action: Action, time: number) => {
  const curve = action.clip.curves[KEY];
  return Math.abs(sampleCurve(curve, time - 1e-5) - sampleCurve(curve, time + 1e-5)) > 1e-2;
};

test("with a pass alone, a locked channel beside it and rounds past its keys a band turned into keys is the same to the last bit", async () => {
  await fc.assert(
    fc.asyncProperty(anyLoop, anyCurve, fc.boolean(), fc.integer({ min: 1, max: 3 }), async (present, laid, alone, rounds) => {
      const passes = [passOf("adds", { "arm-left.rotateZ": constantCurve(5) }, { solo: alone })];
      const shot = movingShot({ base: { ...movingShot().base, [KEY]: present }, passes, locked: ["hand-left.rotateX"] });
      const { shot: played } = await run(layAction, shot, { action: actionOf(laid), at: 3, as: "pass", rounds });
      const band = played.passes.find(({ kind }) => kind === "play");
      const { shot: keyed } = await run(playToKeys, played, {}, { layer: band?.id });
      const [a, b] = [makePlayer(played), makePlayer(keyed)];
      for (let frame = 1; frame <= 49; frame += 0.25) {
        a.readValues(frame);
        b.readValues(frame);
        expect(b.values).toEqual(a.values);
      }
      expect(played.base["hand-left.rotateX"]).toBe(shot.base["hand-left.rotateX"]);
    }),
    { numRuns: 30 },
  );
});

test("what would be longer than a shot can be is refused before its keys are made, however it is laid", async () => {
  const shot = movingShot();
  const action = actionOf(shot.base[KEY]);
  const scope = { ...WHOLE_FIGURE, controls: ["spine"] };
  for (const as of ["replace", "insert", "pass"] as const) {
    const shares: number[] = [];
    const context = { breathe: (share: number) => void shares.push(share) };
    const told = layAction.settings.parse({ action, as, at: 5, rounds: 1000, speed: 1 });
    await expect(runOperation(layAction, shot, scope, told, context)).rejects.toThrow(
      /with it the shot would have \d{7} frames; at the most 200000/,
    );
    expect(Math.max(...shares)).toBeLessThan(0.4);
  }
});
