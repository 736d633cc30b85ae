import * as fc from "fast-check";
import type { Curve } from "../../src/curve/curve.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Shot } from "../../src/model/shot.ts";
import { layerCurves } from "../../src/model/shot.ts";
import { keyAsItIs } from "../../src/operations/hand/keyAsItIs.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { Chance } from "../help/chance.ts";
import { anyCurve, anyLoop } from "../help/random.ts";
import { shifted } from "../help/shifted.ts";
import { movingShot, passOf } from "../help/shots.ts";

const LAYERS = ["base", "pass-adds", "pass-replaces"];

/** A shot whose curves have tangents of every kind, weighted ones too. */
function anyShot(seed: number, curve: fc.Arbitrary<Curve>): Shot {
  const shot = movingShot();
  const keys = Object.keys(shot.base);
  const [own, ...curves] = fc.sample(curve, { numRuns: keys.length + 1, seed }) as [Curve, ...Curve[]];
  const base = Object.fromEntries(keys.map((key, n) => [key, curves[n]]));
  const adds = passOf("adds", { "spine.rotateX": own });
  return { ...shot, base, passes: [adds, passOf("replaces", {})] };
}

/** The shot keyed; null where a curve repeats for ever on one side only, which no key can keep. */
function keyedOrRefused(shot: Shot, layer: string, frame: number, channels: string[]): Shot | null {
  try {
    return keyAsItIs.run(shot, { ...WHOLE_FIGURE, layer }, { frame, channels, unkeyed: {} }).shot;
  } catch (error) {
    expect(String(error)).toMatch(/repeats for ever on one side/);
    return null;
  }
}

const ways = LAYERS.flatMap((layer) => [
  { layer, of: "curves that hold", curve: anyCurve, step: 0.25 },
  // Rounds that jump from one to the next become keys with the jump on the frame beside the seam: whole frames stay.
  { layer, of: "curves that go on in every way", curve: anyLoop, step: 1 },
]);

test.each(ways)("in $layer $of, keyed as they are, do not move, wherever the shot begins", ({ layer, curve, step }) => {
  for (let seed = 0; seed < 40; seed++) {
    for (const by of [0, 1000, -31]) {
      const shot = shifted(anyShot(seed, curve), by);
      const frame = shot.range.start + new Chance(seed + 7).between(0, shot.range.end - shot.range.start);
      const at = seed % 2 === 0 ? Math.round(frame) : Math.round(frame * 4) / 4;
      const channels = ["spine.rotateX", "spine.rotateY", "root.moveX", "hand-left.rotateZ"];
      const after = keyedOrRefused(shot, layer, at, channels);
      if (!after) continue;
      for (const key of channels) expect(layerCurves(after, layer)[key]).toBeDefined();
      const [before, now] = [makePlayer(shot), makePlayer(after)];
      for (let time = shot.range.start - 5; time <= shot.range.end + 5; time += step) {
        before.readValues(time);
        now.readValues(time);
        for (let n = 0; n < before.values.length; n++) {
          // Two curves put together are no third one: where a pass below plays with, first keys in a replacing pass come near.
          if (layer === "pass-replaces" && n === before.channelIndex.get("spine.rotateX")) continue;
          const room = 1e-7 * (1 + Math.abs(before.values[n]));
          if (!(Math.abs(before.values[n] - now.values[n]) <= room))
            throw new Error(`seed ${seed}, frame ${at}, at ${time}: ${before.values[n]} → ${now.values[n]}`);
        }
      }
    }
  }
});

test("what is keyed there stays the very same, and what is locked is refused", () => {
  const shot = movingShot();
  const keyed = keyAsItIs.run(shot, WHOLE_FIGURE, { frame: 13, channels: ["root.moveX"], unkeyed: {} });
  expect(keyed.shot).toBe(shot);
  expect(keyed.report.summary).toBe("Everything was keyed at 13");
  const locked = { ...shot, locked: ["root.moveX"] };
  expect(() => keyAsItIs.run(locked, WHOLE_FIGURE, { frame: 7, channels: ["root.moveX"], unkeyed: {} })).toThrow(/locked/);
  const one = keyAsItIs.run(shot, WHOLE_FIGURE, { frame: 7, channels: ["root.moveX"], unkeyed: {} });
  expect(sampleCurve(one.shot.base["root.moveX"], 10)).toBeCloseTo(sampleCurve(shot.base["root.moveX"], 10), 12);
});
