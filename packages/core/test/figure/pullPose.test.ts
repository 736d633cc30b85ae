import { hopAboard } from "../../../demo/src/shots/hopAboard.ts";
import { makePlayer, type Player } from "../../src/evaluate/makePlayer.ts";
import { limbEnds } from "../../src/figure/limbEnds.ts";
import { pullPose, type PullWish, twistBy } from "../../src/figure/pullPose.ts";
import { worldTurns } from "../../src/figure/standing.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import type { Shot } from "../../src/model/shot.ts";
import { keyResult } from "../../src/operations/shared/keyResult.ts";
import { captureShot } from "../help/capture.ts";
import { movingShot } from "../help/shots.ts";

const FRAME = 21;

function standing(shot: Shot, frame = FRAME): Player {
  const player = makePlayer(shot);
  player.pose(frame);
  return player;
}

const placeOf = (player: Player, id: string) => [
  ...player.worlds.subarray((player.controlIndex.get(id) as number) * 16 + 12).subarray(0, 3),
];
/** A control's turn in the world. */
function turnOf(player: Player, id: string): Float64Array {
  player.readValues(FRAME);
  return worldTurns(player.shot.rig, player.values)
    .slice((player.controlIndex.get(id) as number) * 4)
    .subarray(0, 4);
}
const apart = (a: readonly number[], b: readonly number[]) => Math.hypot(...a.map((v, k) => v - b[k]));

/** The shot with a wish keyed, standing there. */
function pulled(shot: Shot, wish: PullWish): Player {
  return standing(keyResult(shot, "base", FRAME, pullPose(makePlayer(shot), FRAME, wish)));
}

/** A wish that takes a control's own place along by a way. */
function wishBy(shot: Shot, control: string, way: readonly number[], more: Partial<PullWish> = {}): PullWish {
  const from = placeOf(standing(shot), control);
  return { grip: { control, spot: [0, 0, 0] }, by: "reach", goal: from.map((v, k) => v + way[k]) as unknown as PullWish["goal"], ...more };
}

test("feet and hands are known by their names, each limb's uppermost such control", async () => {
  const shot = await hopAboard();
  expect(limbEnds(shot.rig, "feet").map(({ id }) => id)).toEqual(["foot-left", "foot-right"]);
  expect(limbEnds(shot.rig, "hands").map(({ id }) => id)).toEqual(["hand-left", "hand-right"]);
  expect(limbEnds(captureShot().rig, "feet").map(({ id }) => id)).toEqual(["LeftFoot", "RightFoot"]);
});

test("hips pulled with held feet: the feet stay to a thousandth, place and turn, the legs bend", async () => {
  const shot = await hopAboard();
  const before = standing(shot);
  const feet = limbEnds(shot.rig, "feet").map(({ id }) => id);
  const after = pulled(shot, wishBy(shot, "hips", [0.01, -0.03, 0.005], { holds: feet }));
  expect(apart(placeOf(after, "hips"), placeOf(before, "hips"))).toBeCloseTo(Math.hypot(0.01, 0.03, 0.005), 6);
  for (const foot of feet) {
    expect(apart(placeOf(after, foot), placeOf(before, foot))).toBeLessThan(1e-3);
    expect(quatAngle(turnOf(after, foot), 0, turnOf(before, foot), 0)).toBeLessThan(1e-2);
  }
  const loose = pulled(shot, wishBy(shot, "hips", [0.01, -0.03, 0.005]));
  expect(apart(placeOf(loose, "foot-left"), placeOf(before, "foot-left"))).toBeGreaterThan(0.02);
});

test("a foot that is pulled itself is not held", async () => {
  const shot = await hopAboard();
  const before = standing(shot);
  const after = pulled(shot, wishBy(shot, "foot-left", [0.01, 0.02, 0], { holds: ["foot-left", "foot-right"] }));
  expect(apart(placeOf(after, "foot-left"), placeOf(before, "foot-left"))).toBeGreaterThan(0.01);
  expect(apart(placeOf(after, "foot-right"), placeOf(before, "foot-right"))).toBeLessThan(1e-9);
});

test("several picked parts go by the same way; one that hangs on another does not go twice", async () => {
  const shot = await hopAboard();
  const before = standing(shot);
  const way = [0, 0.02, 0.01];
  const after = pulled(shot, wishBy(shot, "hand-left", way, { together: ["hand-right", "finger-1-left"] }));
  expect(
    apart(
      placeOf(after, "hand-left"),
      placeOf(before, "hand-left").map((v, k) => v + way[k]),
    ),
  ).toBeLessThan(1e-4);
  expect(apart(placeOf(after, "hand-right"), placeOf(before, "hand-right"))).toBeGreaterThan(0.005);
});

test("with both sides the partner's joints stand on the reflection", () => {
  const shot = movingShot();
  const wish = wishBy(shot, "hand-left", [0.02, 0.05, 0.03], { isSymmetric: true });
  const values = pullPose(makePlayer(shot), FRAME, wish);
  const left = Object.keys(values).filter((key) => key.startsWith("arm-left.")).length;
  expect(Object.keys(values).filter((key) => key.startsWith("arm-right."))).toHaveLength(left);
  for (const axis of ["X", "Y", "Z"]) {
    const sign = axis === "X" ? 1 : -1;
    const [a, b] = [values[`arm-left.rotate${axis}`], values[`arm-right.rotate${axis}`]];
    if (a !== undefined) expect(b).toBeCloseTo(sign * a, 9);
  }
});

test("a part twists about its own length: its end stays, it turns by as much as said", async () => {
  const shot = await hopAboard();
  const before = standing(shot);
  const values = twistBy(makePlayer(shot), FRAME, "forearm-left", 40);
  const after = standing(keyResult(shot, "base", FRAME, values));
  expect(apart(placeOf(after, "hand-left"), placeOf(before, "hand-left"))).toBeLessThan(1e-6);
  expect(quatAngle(turnOf(after, "forearm-left"), 0, turnOf(before, "forearm-left"), 0)).toBeCloseTo(40, 4);
});
