import {
  checkSettings,
  liftKeys,
  makePlayer,
  noContext,
  operationById,
  runOperation,
  type Scope,
  type Shot,
  setKey,
  WHOLE_FIGURE,
} from "@kneader/core";
import { halfAWalk } from "../src/shots/halfAWalk.ts";

const rework = async (shot: Shot, id: string, settings: object, scope: Partial<Scope> = {}): Promise<Shot> => {
  const operation = operationById(id);
  return (await runOperation(operation, shot, { ...WHOLE_FIGURE, ...scope }, checkSettings(operation, settings), noContext)).shot;
};

/** Half a walk completed by its mirrored half, closed, and repeated with travel. */
async function walkOn(rounds: number): Promise<Shot> {
  const half = await halfAWalk();
  const keys = liftKeys(half, { ...WHOLE_FIGURE, range: half.range });
  const whole = await rework(half, "paste-keys", { keys, at: 13, mirrored: true });
  return rework(await rework(whole, "close-cycle", {}), "run-on", { kind: "travel", rounds });
}

/** The largest distance over the ground between any two frames of a span, in metres. */
function slide(shot: Shot, foot: string, from: number, to: number): number {
  const player = makePlayer(shot);
  const o = (player.controlIndex.get(foot) as number) * 16 + 12;
  const places: [number, number][] = [];
  for (let frame = from; frame <= to; frame++) {
    player.pose(frame);
    places.push([player.worlds[o], player.worlds[o + 2]]);
  }
  return Math.max(...places.flatMap(([x, z]) => places.map(([a, b]) => Math.hypot(a - x, b - z))));
}

/** A foot is on the ground, flat, from a fifth to three quarters of its step; the other one half a cycle later. */
const planted = [
  ["foot-left", 4, 10],
  ["foot-right", 16, 22],
] as const;

test("half a walk, mirrored, closed and repeated four times with travel: planted feet stay within 2 mm at every frame", async () => {
  const walk = await walkOn(4);
  expect(walk.range).toEqual({ start: 1, end: 1 + 5 * 24 });
  for (let round = 0; round <= 4; round++)
    for (const [foot, from, to] of planted) expect(slide(walk, foot, from + 24 * round, to + 24 * round)).toBeLessThan(0.002);
  // The way is as long in each round: 0.24 m a step, as the demo's walk has it.
  const player = makePlayer(walk);
  for (let round = 0; round <= 5; round++) {
    player.pose(1 + 24 * round);
    expect(player.worlds[12]).toBeCloseTo(-1.1 + 0.48 * round, 6);
  }
  // The second half is the first one, left and right exchanged.
  player.readValues(7);
  const first = player.values.slice();
  player.readValues(19);
  const at = (values: Float64Array, key: string) => values[player.channelIndex.get(key) as number];
  for (const part of ["upper-arm", "thigh", "shin"]) {
    expect(at(player.values, `${part}-right.rotateX`)).toBeCloseTo(at(first, `${part}-left.rotateX`), 3);
    expect(at(player.values, `${part}-right.rotateZ`)).toBeCloseTo(-at(first, `${part}-left.rotateZ`), 3);
  }
});

test("one key of the cycle changed, and every round follows", async () => {
  const walk = await walkOn(4);
  const changed = {
    ...walk,
    base: { ...walk.base, "head.rotateX": setKey(walk.base["head.rotateX"], walk.base["head.rotateX"].times[3], 25) },
  };
  const frame = walk.base["head.rotateX"].times[3];
  const player = makePlayer(changed);
  for (let round = 0; round <= 4; round++) {
    player.readValues(frame + 24 * round);
    expect(player.values[player.channelIndex.get("head.rotateX") as number]).toBeCloseTo(25, 9);
  }
});
