import { checkMirror, mirrorPose, readPose } from "../../src/figure/mirror.ts";
import { makePlayer } from "../../src/figure/player.ts";
import { quatAngle } from "../../src/figure/rotation.ts";
import { findPartners, withoutPartner } from "../../src/model/partners.ts";
import type { Shot } from "../../src/model/shot.ts";
import { constantCurve } from "../../src/curve/make.ts";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { captureShot, control, movingShot, smallShot } from "../help/shots.ts";

const shots: [string, () => Shot | Promise<Shot>, number[]][] = [
  ["a small rig", movingShot, [1, 13, 30]],
  ["the demo's rig", halfAWalk, [1, 5, 13]],
  ["the open data's rig, made even", evenCapture, [2, 400, 1500]],
];

/** No person is quite even: the right limbs are given the left ones' lengths, and the middle is put in the middle. */
function evenCapture(): Shot {
  const shot = captureShot();
  const byId = new Map(shot.rig.controls.map((c) => [c.id, c]));
  const controls = shot.rig.controls.map((c) => {
    const partner = byId.get(c.partner ?? "");
    if (!partner) return c;
    const [x, y, z] = partner === c ? [0, c.rest[1], c.rest[2]] : /^(Left|L[A-Z])/.test(c.id) ? c.rest : partner.rest;
    return { ...c, rest: [/^(Right|R[A-Z])/.test(c.id) ? -x : x, y, z] as const };
  });
  return { ...shot, rig: { ...shot.rig, controls } };
}

/** World turns of a pose. */
function turnsOf(shot: Shot, pose: Record<string, number>): Float64Array {
  const base = Object.fromEntries(Object.entries(pose).map(([key, value]) => [key, constantCurve(value)]));
  const player = makePlayer({ ...shot, base, passes: [], follows: [] });
  player.pose(0);
  return player.turns.slice();
}

describe.each(shots)("a mirrored pose on %s", (_name, make, frames) => {
  test("puts every joint on the reflected place of its partner", async () => {
    const shot = await make();
    for (const frame of frames) {
      const pose = readPose(shot, frame);
      const image = mirrorPose(shot, pose, pose);
      expect(checkMirror(shot, pose, image, 1e-9)).toEqual([]);
    }
  });

  test("mirrored twice is the original", async () => {
    const shot = await make();
    for (const frame of frames) {
      const pose = readPose(shot, frame);
      const back = mirrorPose(shot, mirrorPose(shot, pose, pose), pose);
      const [was, is] = [turnsOf(shot, pose), turnsOf(shot, back)];
      for (let i = 0; i < shot.rig.controls.length; i++) expect(quatAngle(was, i * 4, is, i * 4)).toBeLessThan(1e-4);
    }
  });
});

test("on the open data's rig as it is, the error is no more than the rest pose's own unevenness along the chain", () => {
  const shot = captureShot();
  const byId = new Map(shot.rig.controls.map((c) => [c.id, c]));
  const uneven = (id: string | null): number => {
    const c = byId.get(id ?? "");
    if (!c) return 0;
    const partner = byId.get(c.partner ?? c.id) ?? c;
    return uneven(c.parent) + Math.hypot(c.rest[0] + partner.rest[0], c.rest[1] - partner.rest[1], c.rest[2] - partner.rest[2]);
  };
  for (const frame of [2, 400, 1500]) {
    const pose = readPose(shot, frame);
    for (const { control: id, distance } of checkMirror(shot, pose, mirrorPose(shot, pose, pose), 1e-9))
      expect(distance).toBeLessThanOrEqual(uneven(id) + 1e-9);
  }
});

test("controls whose limbs differ in length are listed with the error, worst first", () => {
  const shot = movingShot();
  const controls = shot.rig.controls.map((c) => (c.id === "hand-right" ? { ...c, rest: [-0.7, 0, 0] as const } : c));
  const uneven = { ...shot, rig: { ...shot.rig, controls } };
  const pose = readPose(uneven, 13);
  const errors = checkMirror(uneven, pose, mirrorPose(uneven, pose, pose), 1e-6);
  expect(errors.map((e) => e.control).sort()).toEqual(["hand-left", "hand-right"]);
  expect(errors[0].distance).toBeCloseTo(0.3, 6);
});

test("controls that are never mirrored keep their values", () => {
  const shot = movingShot();
  const controls = shot.rig.controls.map((c) => (c.id.startsWith("hand") ? { ...c, partner: null } : c));
  const alone = { ...shot, rig: { ...shot.rig, controls } };
  const pose = readPose(alone, 13);
  expect(mirrorPose(alone, pose, pose)["hand-left.rotateX"]).toBe(pose["hand-left.rotateX"]);
});

test("own attributes change sides", () => {
  const rig = {
    id: "r",
    name: "r",
    figure: null,
    controls: findPartners([
      control("brow_L", null, [1, 0, 0], { channels: ["raise"] }),
      control("brow_R", null, [-1, 0, 0], { channels: ["raise"] }),
    ]),
  };
  const shot = smallShot({ "brow_L.raise": constantCurve(0.8), "brow_R.raise": constantCurve(0.1) }, { rig });
  const image = mirrorPose(shot, readPose(shot, 1), readPose(shot, 1));
  expect([image["brow_L.raise"], image["brow_R.raise"]]).toEqual([0.1, 0.8]);
});

describe("partners from names", () => {
  test.each([
    ["Hand left", "Hand right"],
    ["LeftUpLeg", "RightUpLeg"],
    ["LHipJoint", "RHipJoint"],
    ["arm_L", "arm_R"],
    ["L-foot", "R-foot"],
    ["mixamorig:LeftArm", "mixamorig:RightArm"],
    ["thigh.lt", "thigh.rt"],
  ])("%s and %s", (left, right) => {
    const [a, b] = findPartners([control("a", null, [0, 0, 0], { name: left }), control("b", null, [0, 0, 0], { name: right })]);
    expect([a.partner, b.partner]).toEqual(["b", "a"]);
  });

  test("central controls are their own partner; a side without the other has none", () => {
    const found = findPartners([control("hips", null, [0, 0, 0]), control("hand left", "hips", [0, 0, 0])]);
    expect(found.map((c) => c.partner)).toEqual(["hips", null]);
    expect(withoutPartner({ id: "", name: "", figure: null, controls: found }).map((c) => c.id)).toEqual(["hand left"]);
  });
});
