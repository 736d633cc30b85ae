import { demoShots } from "../../../demo/src/index.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { makeControl } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { emptyShot } from "../../src/model/shotFields.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { reachFor } from "../../src/operations/spaces/reachFor.ts";
import { Chance } from "../help/chance.ts";
import { run } from "../help/run.ts";

/** How far (in scene units) any control of a limb is from where it was, at a frame. */
function off(before: Shot, after: Shot, ids: readonly string[], frame: number): number {
  const [a, b] = [makePlayer(before), makePlayer(after)];
  a.pose(frame);
  b.pose(frame);
  return Math.max(
    ...ids.map((id) => {
      const [i, k] = [a, b].map(({ controlIndex }) => (controlIndex.get(id) as number) * 16 + 12);
      return Math.hypot(...[0, 1, 2].map((n) => a.worlds[i + n] - b.worlds[k + n]));
    }),
  );
}

describe.each(demoShots)("a reach made in $name", ({ make }) => {
  test.each([
    ["hand-left", ["upper-arm-left", "forearm-left", "hand-left"]],
    ["foot-right", ["thigh-right", "shin-right", "foot-right"]],
  ])("begins where %s is, all of its limb, at any frame and with any softness", async (end, ids) => {
    const shot = await make();
    const known = ids.filter((id) => shot.rig.controls.some((one) => one.id === id));
    const chance = new Chance(5);
    for (let n = 0; n < 4; n++) {
      const frame = Math.round(chance.between(shot.range.start, shot.range.end));
      for (const bend of ["new", "own"]) {
        const { shot: after } = await run(reachFor, shot, { frame, bend, softness: [0, 5, 20][n % 3] }, { controls: [end] });
        expect(off(shot, after, known, frame)).toBeLessThan(1e-4);
      }
    }
  });
});

test("a limb of three bones keeps its zigzag, and a longer chain its own bends, while the end goes elsewhere", async () => {
  const leg = ["hip", "knee", "hock", "toe"].map((id, n, all) =>
    makeControl(id, {
      name: id,
      parent: n === 0 ? "root" : all[n - 1],
      rest: [
        [0.1, 0, 0],
        [0, -0.4, 0.25],
        [0, -0.35, -0.3],
        [0, -0.3, 0.1],
      ][n] as [number, number, number],
      part: "legs",
    }),
  );
  const shot = emptyShot({
    id: "hind",
    name: "Hind leg",
    rig: { id: "r", name: "R", figure: null, controls: [makeControl("root", { name: "Root", rest: [0, 1, 0] }), ...leg] },
    range: { start: 1001, end: 1030 },
    unitMetres: 1,
    base: {
      "hip.rotateX": curveFrom([
        [1001, -10],
        [1030, 20],
      ]),
      "knee.rotateX": curveFrom([
        [1001, 5],
        [1030, 25],
      ]),
    },
  });
  const { shot: after } = await run(reachFor, shot, { frame: 1010, bones: 3 }, { controls: ["toe"] });
  expect(off(shot, after, ["hip", "knee", "hock", "toe"], 1010)).toBeLessThan(1e-4);
  // Elsewhere knee and hock still bend to opposite sides, the hock by no less than half of its bend.
  const bends = (one: Shot, frame: number) => {
    const player = makePlayer(one);
    player.pose(frame);
    const at = (id: string) => [1, 2].map((k) => player.worlds[(player.controlIndex.get(id) as number) * 16 + 12 + k]);
    const [a, b, c, d] = ["hip", "knee", "hock", "toe"].map(at);
    const turn = (p: number[], q: number[], r: number[]) =>
      Math.atan2(
        (q[0] - p[0]) * (r[1] - q[1]) - (q[1] - p[1]) * (r[0] - q[0]),
        (q[0] - p[0]) * (r[0] - q[0]) + (q[1] - p[1]) * (r[1] - q[1]),
      );
    return [turn(a, b, c), turn(b, c, d)];
  };
  const raised = { ...after, base: { ...after.base, "toe-goal.moveY": curveFrom([[1001, 0.15]]) } };
  for (const frame of [1003, 1010, 1022]) {
    const [knee, hock] = bends(raised, frame);
    const [was, hockWas] = bends(shot, 1010);
    expect(Math.sign(knee)).toBe(Math.sign(was));
    expect(Math.sign(hock)).toBe(Math.sign(hockWas));
    expect(Math.abs(hock)).toBeGreaterThan(0.5 * Math.abs(hockWas));
  }
});
