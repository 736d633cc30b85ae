import * as fc from "fast-check";
import { checkMirror } from "../../src/figure/checkMirror.ts";
import { readPose } from "../../src/evaluate/readPose.ts";
import { makeMirrorer, type PoseValues } from "../../src/figure/mirror.ts";
import { reflect, uprightPlane } from "../../src/figure/mirrorPlane.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import { findPartners } from "../../src/figure/partners.ts";
import type { Shot } from "../../src/model/shot.ts";
import { constantCurve } from "../../src/curve/make.ts";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { captureShot } from "../help/capture.ts";
import { anyAngle } from "../help/random.ts";
import { control, movingShot, smallShot } from "../help/shots.ts";

const mirrorPose = (shot: Shot, pose: PoseValues, near: PoseValues) => makeMirrorer(shot.rig).pose(pose, near);

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
  const player = makePlayer({ ...shot, base, passes: [], constraints: [] });
  player.pose(0);
  return player.turns.slice();
}

describe.each(shots)("a mirrored pose on %s", (_name, make, frames) => {
  test("puts every joint on the reflected place of its partner", async () => {
    const shot = await make();
    for (const frame of frames) {
      const pose = readPose(shot, frame);
      const image = mirrorPose(shot, pose, pose);
      expect(checkMirror(shot.rig, pose, image, 1e-9)).toEqual([]);
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
    for (const { control: id, distance } of checkMirror(shot.rig, pose, mirrorPose(shot, pose, pose), 1e-9))
      expect(distance).toBeLessThanOrEqual(uneven(id) + 1e-9);
  }
});

test("controls whose limbs differ in length are listed with the error, worst first", () => {
  const shot = movingShot();
  const controls = shot.rig.controls.map((c) => (c.id === "hand-right" ? { ...c, rest: [-0.7, 0, 0] as const } : c));
  const uneven = { ...shot, rig: { ...shot.rig, controls } };
  const pose = readPose(uneven, 13);
  const errors = checkMirror(uneven.rig, pose, mirrorPose(uneven, pose, pose), 1e-6);
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

describe("what stands in the world by itself, and figures that lie", () => {
  /** A body with two feet and two hands that no control carries. */
  const free = {
    id: "free",
    name: "Free",
    figure: null,
    controls: findPartners([
      control("hips", null, [0, 1, 0]),
      control("spine", "hips", [0, 0.5, 0]),
      control("foot-left", null, [0.2, 0, 0]),
      control("foot-right", null, [-0.2, 0, 0]),
      control("toe-left", "foot-left", [0, 0, 0.2]),
      control("toe-right", "foot-right", [0, 0, 0.2]),
    ]),
  };
  const standing = smallShot(
    {
      "hips.moveX": constantCurve(3),
      "hips.moveZ": constantCurve(-1),
      "hips.rotateY": constantCurve(35),
      "foot-left.moveX": constantCurve(3.1),
      "foot-left.moveZ": constantCurve(-0.4),
      "foot-left.rotateY": constantCurve(50),
      "toe-left.rotateX": constantCurve(-20),
      "foot-right.moveX": constantCurve(2.9),
      "foot-right.moveY": constantCurve(0.3),
      "foot-right.moveZ": constantCurve(-1.2),
    },
    { rig: free },
  );

  test("feet in the world land on the reflection about the figure's middle, and not where the others were", () => {
    const pose = readPose(standing, 1);
    const image = mirrorPose(standing, pose, pose);
    expect(checkMirror(standing.rig, pose, image, 1e-9)).toEqual([]);
    expect(image["foot-right.moveX"]).not.toBeCloseTo(pose["foot-left.moveX"], 2);
    // By hand: hips at (3, 1, −1) look 35° to the side; the normal is (cos 35°, 0, −sin 35°).
    const [nx, nz] = [Math.cos((35 * Math.PI) / 180), -Math.sin((35 * Math.PI) / 180)];
    const off = (3.3 - 3) * nx + (-0.4 + 1) * nz;
    expect(image["foot-right.moveX"]).toBeCloseTo(3.3 - 2 * off * nx + 0.2, 9);
    expect(image["foot-right.moveZ"]).toBeCloseTo(-0.4 - 2 * off * nz, 9);
    // A pose that was only copied is found out.
    const copied = { ...pose, "foot-right.moveX": 3.1, "foot-left.moveX": 2.9 };
    expect(checkMirror(standing.rig, pose, copied, 1e-3).length).toBeGreaterThan(0);
  });

  test("a figure that lies on its back, or stands on its head, keeps its head where it is", () => {
    const shot = movingShot();
    for (const turn of [
      { "root.rotateX": -90, "root.rotateY": 0, "root.rotateZ": 0 },
      { "root.rotateX": -90.3, "root.rotateY": 25, "root.rotateZ": 4 },
      { "root.rotateX": 178, "root.rotateY": -60, "root.rotateZ": 3 },
    ]) {
      const pose = { ...readPose(shot, 13), ...turn };
      const image = mirrorPose(shot, pose, pose);
      expect(checkMirror(shot.rig, pose, image, 1e-9)).toEqual([]);
      const head = (values: Record<string, number>) => {
        const base = Object.fromEntries(Object.entries(values).map(([key, value]) => [key, constantCurve(value)]));
        const player = makePlayer({ ...shot, base, passes: [], constraints: [] });
        player.pose(0);
        const i = player.controlIndex.get("spine") as number;
        return player.worlds.slice(i * 16 + 12, i * 16 + 15);
      };
      const [was, is] = [head(pose), head(image)];
      expect(Math.hypot(...was.map((at, k) => at - is[k]))).toBeLessThan(0.1);
    }
  });
});

test("in a plane of the scene every place and turn is reflected, heading and all", () => {
  fc.assert(
    fc.property(fc.tuple(anyAngle, anyAngle, anyAngle), fc.double({ min: -3, max: 3, noNaN: true }), (angles, heading) => {
      const shot = movingShot();
      const plane = uprightPlane([0.3, 0, -0.7], heading);
      const pose = { ...readPose(shot, 13), "root.rotateX": angles[0], "root.rotateY": angles[1], "root.rotateZ": angles[2] };
      const image = makeMirrorer(shot.rig, { plane }).pose(pose, pose);
      const [before, after] = [pose, image].map((values) => {
        const base = Object.fromEntries(Object.entries(values).map(([key, value]) => [key, constantCurve(value)]));
        const player = makePlayer({ ...shot, base });
        player.pose(1);
        return player;
      });
      const at = ({ controlIndex, worlds }: typeof before, id: string) =>
        worlds.subarray((controlIndex.get(id) as number) * 16 + 12).subarray(0, 3);
      for (const { id, partner } of shot.rig.controls) {
        const want = reflect(plane, at(before, partner as string));
        const got = at(after, id);
        for (let k = 0; k < 3; k++) expect(got[k]).toBeCloseTo(want[k], 9);
      }
    }),
  );
});

test("columns of frames are mirrored as their poses are, angles near those of the frame before", () => {
  const shot = movingShot();
  const frames = [1, 7, 13, 25, 49];
  const poses = frames.map((frame) => readPose(shot, frame));
  const mirrorer = makeMirrorer(shot.rig);
  const columns = mirrorer.columns(
    Object.fromEntries(Object.keys(poses[0]).map((key) => [key, Float64Array.from(poses, (pose) => pose[key])])),
  );
  let near = poses[0];
  poses.forEach((pose, n) => {
    near = mirrorer.pose(pose, near);
    for (const key of Object.keys(columns)) expect(columns[key][n]).toBe(near[key]);
  });
});
