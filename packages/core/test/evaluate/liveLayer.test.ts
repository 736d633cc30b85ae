import * as fc from "fast-check";
import { sampleCurve } from "../../src/curve/track.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { liveAsCurves, makeLiveLayer } from "../../src/evaluate/liveLayer.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { keyResult, liveResult } from "../../src/operations/shared/keyResult.ts";
import { keyChannels } from "../../src/operations/shared/keyChannels.ts";
import { movingShot, passOf } from "../help/shots.ts";

const KEYS = ["spine.rotateX", "spine.rotateY", "hand-right.rotateZ"];

function worlds(shot: Shot, frame: number, live?: ReturnType<typeof makeLiveLayer>): number[] {
  const player = makePlayer(shot, { live });
  player.pose(frame);
  return [...player.worlds];
}

const passes: readonly Partial<Pass>[] = [
  {},
  { compose: "rotation" },
  { weight: constantCurve(0.6) },
  {
    weight: curveFrom([
      [1, 0.2],
      [49, 1],
    ]),
  },
];
const stacks: [string, Shot][] = passes.flatMap((more, n) =>
  (["adds", "replaces"] as const).map((kind): [string, Shot] => {
    const pass = passOf(kind, { "spine.rotateX": constantCurve(8), "spine.rotateY": constantCurve(-5) }, { id: "live", ...more });
    const above = passOf("adds", { "spine.rotateX": constantCurve(3) }, { id: "above", weight: constantCurve(0.5) });
    return [`${kind} ${n}`, movingShot({ passes: [pass, above] })];
  }),
);

test.each(stacks.flatMap(([name, shot]) => ["base", "live"].map((layer) => [`${layer} under ${name}`, shot, layer] as const)))(
  "what comes in on %s is played as if it were keyed there",
  (_name, shot, layer) => {
    const live = makeLiveLayer(layer, KEYS);
    live.put(20, [12, -7, 33]);
    const keyed = keyChannels(shot, layer, 20, { "spine.rotateX": 12, "spine.rotateY": -7, "hand-right.rotateZ": 33 });
    const [one, other] = [worlds(shot, 20, live), worlds(keyed, 20)];
    one.forEach((value, k) => {
      expect(value).toBeCloseTo(other[k], 9);
    });
    // Beside the only frame that came in, the shot plays as it is.
    const hasAll = KEYS.every((key) => key in (layer === "base" ? shot.base : shot.passes[0].curves));
    if (hasAll) expect(worlds(shot, 25, live)).toEqual(worlds(shot, 25));
  },
);

test("frames may come in any order; the last word on a frame counts, and between two it goes straight", () => {
  const live = makeLiveLayer("base", ["spine.rotateX"]);
  live.put(20, [10]);
  live.put(10, [0]);
  live.put(20, [30]);
  expect(live.frames()).toEqual([10, 20]);
  expect([9, 10, 15, 20, 21].map((frame) => live.read(0, frame))).toEqual([Number.NaN, 0, 15, 30, Number.NaN]);
});

test("once all is in it becomes curves that play the same, and outside its span nothing is changed", () => {
  const shot = movingShot();
  const live = makeLiveLayer("base", ["spine.rotateX"]);
  for (let frame = 14; frame <= 24; frame++) live.put(frame, [frame * 2]);
  const after = liveAsCurves(shot, live);
  for (let frame = 14; frame <= 24; frame += 0.5) expect(worlds(after, frame)).toEqual(worlds(shot, frame, live));
  expect([...after.base["spine.rotateX"].times].filter((time) => time < 14 || time > 24)).toEqual([1, 13, 25, 49]);
  expect(sampleCurve(after.base["spine.rotateX"], 13)).toBe(sampleCurve(shot.base["spine.rotateX"], 13));
  expect(liveAsCurves(shot, makeLiveLayer("base", ["spine.rotateX"]))).toBe(shot);
});

test("a result aimed at live is the one that is keyed when it is let go", () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...stacks),
      fc.constantFrom("base", "live"),
      fc.double({ min: -60, max: 60, noNaN: true }),
      ([name, shot], layer, value) => {
        // Under a pass that replaces in full base motion is not seen.
        fc.pre(!(layer === "base" && name.startsWith("replaces")));
        const wanted = { "spine.rotateX": value };
        const live = liveResult(shot, layer, 20, ["spine.rotateX"]);
        expect(live.aim({ "spine.rotateX": value / 2 })).toBe(true);
        expect(live.aim(wanted)).toBe(true);
        live.player.pose(20);
        const kept = worlds(keyResult(shot, layer, 20, wanted), 20);
        [...live.player.worlds].forEach((number, k) => {
          expect(number).toBeCloseTo(kept[k], 5);
        });
      },
    ),
    { numRuns: 40 },
  );
});

test("where a key would not be seen it is no aim, and keying says why", () => {
  const shot = movingShot({ passes: [passOf("replaces", { "spine.rotateX": constantCurve(8) })] });
  expect(liveResult(shot, "base", 20, ["spine.rotateX"]).aim({ "spine.rotateX": 3 })).toBe(false);
  expect(() => keyResult(shot, "base", 20, { "spine.rotateX": 3 })).toThrow(/would not be seen/);
});
