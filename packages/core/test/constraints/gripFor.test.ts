import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { gripFor, leaderOf } from "../../src/constraints/gripFor.ts";
import { makePlayer, type Player } from "../../src/evaluate/makePlayer.ts";
import { pullTo } from "../../src/figure/pull.ts";
import { keyResult } from "../../src/operations/shared/keyResult.ts";
import { changeTie } from "../../src/operations/hand/changeTie.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { bakeDown } from "../../src/operations/spaces/bakeDown.ts";
import { matchReach } from "../../src/operations/spaces/matchReach.ts";
import { reachFor } from "../../src/operations/spaces/reachFor.ts";
import { run } from "../help/run.ts";

type Three = [number, number, number];
const placeOf = (player: Player, id: string): Three => {
  const at = (player.controlIndex.get(id) as number) * 16 + 12;
  return [player.worlds[at], player.worlds[at + 1], player.worlds[at + 2]];
};

test("pulling an end that reaches pulls its goal: the end comes along, at this frame only from where it was", async () => {
  const given = await halfAWalk();
  const scope = { controls: ["hand-left"] };
  const { shot } = await run(reachFor, given, { frame: 7, softness: 0 }, scope);
  const player = makePlayer(shot);
  player.pose(7);
  const hand = placeOf(player, "hand-left");
  const grip = gripFor(player, 7, "hand-left", hand);
  expect(grip.control).toBe("hand-left-goal");
  // Toward the shoulder, where the arm can go.
  const way = placeOf(player, "upper-arm-left").map((v, k) => 0.15 * (v - hand[k]));
  const goal: Three = [hand[0] + way[0], hand[1] + way[1], hand[2] + way[2]];
  const after = makePlayer(keyResult(shot, "base", 7, pullTo(player, 7, grip, "reach", goal)));
  after.pose(7);
  const moved = placeOf(after, "hand-left").map((v, k) => v - hand[k]);
  for (const [k, wanted] of way.entries()) expect(moved[k]).toBeCloseTo(wanted, 4);
  // A joint on the way is led by what it bends toward.
  expect(leaderOf(player, 7, "forearm-left")).toBe("hand-left-bend");
  expect(leaderOf(player, 7, "hand-right")).toBeNull();
  // Where its own turns lead, itself is pulled.
  const free = (await run(matchReach, shot, { to: "turns", frame: 10 }, scope)).shot;
  expect(leaderOf(makePlayer(free), 12, "hand-left")).toBeNull();
  expect(leaderOf(makePlayer(free), 8, "hand-left")).toBe("hand-left-goal");
});

test("goal and bend are gone with the reach that made them, baked down or let go; what something else goes after stays", async () => {
  const given = await halfAWalk();
  const { shot } = await run(reachFor, given, { frame: 7 }, { controls: ["hand-left"] });
  const [reach] = shot.constraints.filter(({ kind }) => kind === "reach");
  const ids = (one: typeof shot) => one.rig.controls.map(({ id }) => id);
  expect(ids(shot)).toEqual(expect.arrayContaining(["hand-left-goal", "hand-left-bend"]));
  const { shot: baked, report } = await run(bakeDown, shot, { keys: "every", afterwards: "removed" });
  expect(ids(baked)).toEqual(ids(given));
  expect(report.notes.join(" ")).toMatch(/Gone with what made them: Hand left goal, Hand left bend\./);
  expect(Object.keys(baked.base).filter((key) => /goal|bend/.test(key))).toEqual([]);
  const letGo = changeTie.run(shot, WHOLE_FIGURE, { tie: reach.id, to: null }).shot;
  expect(ids(letGo)).toEqual(ids(given));
  // Another hand that reaches for the same goal keeps it.
  const { shot: both } = await run(reachFor, shot, { frame: 7, target: "hand-left-goal" }, { controls: ["hand-right"] });
  const one = changeTie.run(both, WHOLE_FIGURE, { tie: reach.id, to: null }).shot;
  expect(ids(one)).toContain("hand-left-goal");
  expect(ids(one)).not.toContain("hand-left-bend");
  // Off and kept, they stay to be switched on again.
  expect(ids((await run(bakeDown, shot, { keys: "every", afterwards: "off" })).shot)).toContain("hand-left-goal");
});
