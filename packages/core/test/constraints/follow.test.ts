import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { Tangent } from "../../src/curve/curve.ts";
import { addFollow, type Follow, followOffset } from "../help/follows.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Shot } from "../../src/model/shot.ts";
import { handOverTheLantern } from "../../../demo/src/shots/handOverTheLantern.ts";
import { control, movingShot } from "../help/shots.ts";

function withLantern(): Shot {
  const shot = movingShot();
  return {
    ...shot,
    rig: { ...shot.rig, controls: [...shot.rig.controls, control("lantern", null, [0.9, 1.2, 0.3])] },
    base: { ...shot.base, "lantern.rotateY": constantCurve(15) },
  };
}

function follows(shot: Shot, target: string, frame: number, more: Partial<Follow> = {}): Follow {
  return {
    id: `follow-${target}`,
    control: "lantern",
    target,
    position: true,
    rotation: true,
    strength: constantCurve(1),
    offset: followOffset(shot, "lantern", target, frame),
    on: true,
    ...more,
  };
}

function worldOf(shot: Shot, id: string, frame: number): number[] {
  const player = makePlayer(shot);
  player.pose(frame);
  const i = (player.controlIndex.get(id) as number) * 16;
  return [...player.worlds.subarray(i, i + 16)];
}

test("a follow with its offset taken at a frame changes nothing at that frame", () => {
  const shot = withLantern();
  const bound = addFollow(shot, follows(shot, "hand-left", 13));
  worldOf(bound, "lantern", 13).forEach((value, k) => {
    expect(value).toBeCloseTo(worldOf(shot, "lantern", 13)[k], 9);
  });
  expect(worldOf(bound, "lantern", 30)).not.toEqual(worldOf(shot, "lantern", 30));
});

test("the follower keeps its place in the target's frame", () => {
  const shot = withLantern();
  const bound = addFollow(shot, follows(shot, "hand-left", 1));
  const distance = (frame: number) => {
    const [a, b] = [worldOf(bound, "lantern", frame), worldOf(bound, "hand-left", frame)];
    return Math.hypot(a[12] - b[12], a[13] - b[13], a[14] - b[14]);
  };
  for (const frame of [1, 9.5, 25, 49]) expect(distance(frame)).toBeCloseTo(distance(1), 9);
});

test("strength 0 is free, between it is on the way", () => {
  const shot = withLantern();
  const at = (strength: number) =>
    worldOf(addFollow(shot, follows(shot, "hand-left", 1, { strength: constantCurve(strength) })), "lantern", 25);
  const [none, half, full] = [at(0), at(0.5), at(1)];
  expect(none).toEqual(worldOf(shot, "lantern", 25));
  for (const k of [12, 13, 14]) expect(half[k]).toBeCloseTo((none[k] + full[k]) / 2, 9);
});

test("only the position or only the rotation", () => {
  const shot = withLantern();
  const free = worldOf(shot, "lantern", 25);
  const place = worldOf(addFollow(shot, follows(shot, "hand-left", 1, { rotation: false })), "lantern", 25);
  expect(place.slice(0, 11)).toEqual(free.slice(0, 11));
  const turn = worldOf(addFollow(shot, follows(shot, "hand-left", 1, { position: false })), "lantern", 25);
  expect(turn.slice(12)).toEqual(free.slice(12));
  expect(turn.slice(0, 3)).not.toEqual(free.slice(0, 3));
});

test("a control can follow nothing that itself hangs on it", () => {
  const shot = withLantern();
  const bound = addFollow(shot, follows(shot, "hand-left", 1));
  expect(() => addFollow(bound, { ...follows(bound, "hand-left", 1), control: "root", target: "lantern" })).toThrow(/moves with.*a circle/);
  expect(() => addFollow(shot, { ...follows(shot, "hand-left", 1), target: "moon" })).toThrow(/no control "moon"/);
  expect(() => followOffset(shot, "moon", "root", 1)).toThrow(/no control "moon"/);
});

test("the demo's lantern goes from hand to hand to hook without a pop", async () => {
  const shot = await handOverTheLantern();
  const player = makePlayer(shot);
  const i = (player.controlIndex.get("lantern") as number) * 16 + 12;
  const places: number[][] = [];
  for (let frame = 1; frame <= shot.range.end; frame++) {
    player.pose(frame);
    places.push([...player.worlds.subarray(i, i + 3)]);
  }
  const step = (n: number) => Math.hypot(...places[n].map((value, k) => value - places[n - 1][k]));
  const jumps = places.slice(2).map((_, n) => Math.abs(step(n + 2) - step(n + 1)));
  // Metres a frame a frame: an arm's swing changes its pace by less than a centimetre and a half.
  expect(Math.max(...jumps)).toBeLessThan(0.015);
});

test("stepped strengths hand over at one frame", () => {
  const shot = withLantern();
  let bound = addFollow(
    shot,
    follows(shot, "hand-left", 1, {
      strength: curveFrom(
        [
          [1, 1],
          [25, 0],
        ],
        Tangent.stepped,
      ),
    }),
  );
  bound = addFollow(bound, {
    ...follows(bound, "hand-right", 24.999),
    strength: curveFrom(
      [
        [1, 0],
        [25, 1],
      ],
      Tangent.stepped,
    ),
  });
  const [before, after] = [worldOf(bound, "lantern", 24.999), worldOf(bound, "lantern", 25)];
  for (const k of [12, 13, 14]) expect(Math.abs(before[k] - after[k])).toBeLessThan(1e-2);
});
