import { constantCurve } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/figure/player.ts";
import type { Shot } from "../../src/model/shot.ts";
import { keyResult } from "../../src/rework/keyResult.ts";
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
  const after = keyResult(shot, "lean", "spine.rotateX", 20, 33);
  expect(valueAt(after, "spine.rotateX", 20)).toBeCloseTo(33, 4);
  expect(after.base).toBe(shot.base);
  expect(after.passes[1]).toBe(shot.passes[1]);
});

test("into base motion too, below all passes", () => {
  const shot = movingShot({ passes: [lean()] });
  const after = keyResult(shot, "base", "spine.rotateX", 20, -12);
  expect(valueAt(after, "spine.rotateX", 20)).toBeCloseTo(-12, 6);
  expect(after.passes).toBe(shot.passes);
});

test("where the layer has no say, nothing is keyed and it is said", () => {
  expect(() => keyResult(movingShot({ passes: [lean({ on: false })] }), "lean", "spine.rotateX", 20, 9)).toThrow(/would not be seen/);
  const hidden = movingShot({ passes: [lean(), passOf("replaces", { "spine.rotateX": constantCurve(1) }, { id: "top" })] });
  expect(() => keyResult(hidden, "lean", "spine.rotateX", 20, 9)).toThrow(/replaced above/);
  expect(() => keyResult(movingShot(), "base", "nobody.rotateX", 20, 9)).toThrow(/no channel/);
});
