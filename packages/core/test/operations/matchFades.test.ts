import * as fc from "fast-check";
import { demoShots } from "../../../demo/src/index.ts";
import { fadingFrom } from "../../src/curve/fadingFrom.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Shot } from "../../src/model/shot.ts";
import { matchReach } from "../../src/operations/spaces/matchReach.ts";
import { reachFor } from "../../src/operations/spaces/reachFor.ts";
import { anyCurve } from "../help/random.ts";
import { run } from "../help/run.ts";
import { shifted } from "../help/shifted.ts";

test("a curve that fades back has the value at the frame, and is what it was from the end of the fade on", () => {
  fc.assert(
    fc.property(
      anyCurve,
      fc.integer({ min: 1, max: 60 }),
      fc.integer({ min: 1, max: 20 }),
      fc.double({ min: -50, max: 50, noNaN: true }),
      (curve, frame, over, off) => {
        const wanted = sampleCurve(curve, frame) + off;
        const after = fadingFrom(curve, frame, over, wanted);
        expect(sampleCurve(after, frame)).toBeCloseTo(wanted, 6);
        for (let time = frame + over; time < frame + over + 30; time += 0.25)
          expect(Math.abs(sampleCurve(after, time) - sampleCurve(curve, time))).toBeLessThan(
            1e-6 * (1 + Math.abs(sampleCurve(curve, time))),
          );
      },
    ),
  );
});

/** The longest step of a control from frame to frame, over some frames. */
function longest(shot: Shot, id: string, from: number, to: number): number {
  const player = makePlayer(shot);
  const at = (player.controlIndex.get(id) as number) * 16 + 12;
  let most = 0;
  let last: number[] | null = null;
  for (let frame = from; frame <= to; frame++) {
    player.pose(frame);
    const now = [0, 1, 2].map((k) => player.worlds[at + k]);
    if (last) most = Math.max(most, Math.hypot(...now.map((v, k) => v - (last as number[])[k])));
    last = now;
  }
  return most;
}

test.each([0, 1000])(
  "where keys stand on every frame a limb let go comes back over some frames, and so does one that reaches again (%i later)",
  async (by) => {
    const captured = demoShots.find(({ name }) => name === "Captured signal");
    const shot = shifted((await captured?.make()) as Shot, by);
    const { start, end } = shot.range;
    const scope = { controls: ["hand-left"] };
    const first = start + 5;
    const reaching = (await run(reachFor, shot, { frame: first, softness: 5 }, scope)).shot;
    const middle = Math.round((start + end) / 2);
    const usual = longest(shot, "hand-left", start, end);
    const at = {
      shot: reaching,
      scope: { ...scope, channels: null, keys: null, range: null, layer: "base" },
      frame: middle,
      copiedPose: null,
      copiedKeys: null,
      poseShare: 0.5,
    };
    expect(matchReach.situation?.(at)).toEqual({ frame: middle, to: "turns" });
    const { shot: free, report } = await run(matchReach, reaching, { frame: middle, to: "turns", over: 12 }, scope);
    // It comes back in steps no longer than its own longest and the twelfth part of the way it has to go, half as much again.
    const away = longest({ ...reaching, range: { start, end } }, "hand-left", middle - 1, middle - 1);
    const jump = longest(
      await run(matchReach, reaching, { frame: middle, to: "turns", over: 0 }, scope).then(({ shot: s }) => s),
      "hand-left",
      middle - 1,
      middle + 2,
    );
    const back = longest(free, "hand-left", middle - 1, middle + 14);
    expect(away).toBe(0);
    expect(back).toBeLessThan(usual + (1.5 * jump) / 12 + 1e-3);
    expect(report.notes.join(" ")).toMatch(/^Largest step: [\d.]+ mm at frame \d+ \([^)]+\); before it was [\d.]+ mm\.$/);
    expect(matchReach.situation?.({ ...at, shot: free, frame: middle + 5 })).toMatchObject({ to: "reach" });
    // And the other way round, with a goal that has a key on every frame.
    const again = (await run(matchReach, free, { frame: middle + 20, to: "reach", over: 12 }, scope)).shot;
    expect(longest(again, "hand-left", middle + 18, middle + 34)).toBeLessThan(usual + (1.5 * jump) / 12 + 1e-3);
  },
);
