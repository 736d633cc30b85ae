import { Euler, Object3D, Quaternion, Vector3 } from "three";
import { BVHLoader } from "three/examples/jsm/loaders/BVHLoader.js";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { addFollow, followOffset } from "../help/follows.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { activePasses } from "../../src/passes/active.ts";
import { DEG, rotationOrders } from "../../src/maths/rotation.ts";
import { channelKey } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { captureBytes, captureShot } from "../help/capture.ts";
import { control, movingShot, passOf, smallShot } from "../help/shots.ts";

/** The same rig as a tree of three's objects, posed from the player's own channel values. */
function threeFigure(shot: Shot, values: (key: string) => number): Map<string, Object3D> {
  const objects = new Map<string, Object3D>();
  for (const c of shot.rig.controls) {
    const object = new Object3D();
    const value = (channel: string) => values(channelKey(c.id, channel));
    object.position.set(c.rest[0] + value("moveX"), c.rest[1] + value("moveY"), c.rest[2] + value("moveZ"));
    const turn = new Quaternion().setFromEuler(new Euler(value("rotateX") * DEG, value("rotateY") * DEG, value("rotateZ") * DEG, c.order));
    object.quaternion.copy(new Quaternion(...c.restTurn).multiply(turn));
    object.scale.set(value("scaleX"), value("scaleY"), value("scaleZ"));
    if (c.parent !== null) objects.get(c.parent)?.add(object);
    objects.set(c.id, object);
  }
  for (const [, object] of objects) if (!object.parent) object.updateMatrixWorld(true);
  return objects;
}

function expectLikeThree(shot: Shot, frame: number): void {
  const player = makePlayer(shot);
  player.readValues(frame);
  const values = new Map([...player.channelIndex].map(([key, i]) => [key, player.values[i]]));
  const objects = threeFigure(shot, (key) => values.get(key) ?? 0);
  player.pose(frame);
  for (const [id, i] of player.controlIndex) {
    const { elements } = (objects.get(id) as Object3D).matrixWorld;
    for (let k = 0; k < 16; k++) expect(Math.abs(player.worlds[i * 16 + k] - elements[k])).toBeLessThan(1e-9);
  }
}

describe("forward kinematics", () => {
  test("equals three's object tree on a moving figure", () => {
    for (const frame of [1, 7.5, 13, 30, 49]) expectLikeThree(movingShot(), frame);
  });

  test.each(rotationOrders)("in the order %s, with rest turns and scale", (order) => {
    const half = Math.SQRT1_2;
    const rig = {
      id: "r",
      name: "r",
      figure: null,
      controls: [
        control("a", null, [1, 2, 3], { order, restTurn: [0, half, 0, half] }),
        control("b", "a", [0, 1, 0], { order, channels: ["rotateX", "rotateY", "rotateZ", "scaleX", "scaleY"] }),
        control("c", "b", [0.5, 0, 0.2], { order, restTurn: [0.5, 0.5, 0.5, 0.5] }),
      ],
    };
    const base = {
      "a.rotateX": constantCurve(20),
      "a.rotateY": constantCurve(-70),
      "a.rotateZ": constantCurve(110),
      "b.rotateX": constantCurve(-33),
      "b.scaleX": constantCurve(1.5),
      "b.scaleY": constantCurve(0.5),
      "c.rotateY": constantCurve(64),
    };
    expectLikeThree(smallShot(base, { rig }), 1);
  });

  test("joint positions of the open motion capture equal three's BVHLoader within 1e-4 at every frame", () => {
    const { skeleton, clip } = new BVHLoader().parse(new TextDecoder().decode(captureBytes));
    const shot = captureShot();
    const player = makePlayer(shot);
    const root = skeleton.bones[0];
    const byName = new Map(skeleton.bones.map((bone) => [bone.name, bone]));
    const place = new Vector3();
    let worst = 0;
    for (let frame = 0; frame < 2752; frame++) {
      // The tracks are set straight from the clip: one sample a frame, so nothing is interpolated.
      for (const track of clip.tracks) {
        const [name, property] = track.name.split(".");
        const bone = byName.get(name);
        if (!bone) continue;
        if (property === "position") bone.position.fromArray(track.values, frame * 3);
        else bone.quaternion.fromArray(track.values, frame * 4);
      }
      root.updateMatrixWorld(true);
      player.pose(frame + 1);
      for (const c of shot.rig.controls) {
        const bone = byName.get(c.name);
        if (!bone) throw new Error(`three has no bone ${c.name}`);
        place.setFromMatrixPosition(bone.matrixWorld);
        const i = (player.controlIndex.get(c.id) as number) * 16 + 12;
        worst = Math.max(worst, Math.hypot(player.worlds[i] - place.x, player.worlds[i + 1] - place.y, player.worlds[i + 2] - place.z));
      }
    }
    expect(shot.rig.controls).toHaveLength(31);
    expect(worst).toBeLessThan(1e-4);
  });
});

describe("the stack", () => {
  const lean = { "spine.rotateX": constantCurve(12) };

  test("an adding pass is laid on top, scaled by its weight, past 100 % too", () => {
    const shot = movingShot();
    const at = (weight: number) => {
      const player = makePlayer({ ...shot, passes: [passOf("adds", lean, { weight: constantCurve(weight) })] });
      player.readValues(20);
      return player.values[player.channelIndex.get("spine.rotateX") as number];
    };
    expect(at(1) - at(0)).toBeCloseTo(12, 12);
    expect(at(1.5) - at(0)).toBeCloseTo(18, 12);
    expect(at(-1) - at(0)).toBeCloseTo(-12, 12);
  });

  test("a replacing pass takes the place of what is below by as much as its weight", () => {
    const shot = { ...movingShot(), passes: [passOf("replaces", lean, { weight: constantCurve(0.25) })] };
    const below = makePlayer(shot, { below: "pass-replaces" });
    const all = makePlayer(shot);
    below.readValues(20);
    all.readValues(20);
    const i = all.channelIndex.get("spine.rotateX") as number;
    expect(all.values[i]).toBeCloseTo(below.values[i] * 0.75 + 12 * 0.25, 12);
  });

  test("weight 0, off, or out of range changes nothing, bit for bit", () => {
    const shot = movingShot();
    const plain = makePlayer(shot);
    for (const pass of [
      passOf("adds", lean, { weight: constantCurve(0) }),
      passOf("adds", lean, { on: false }),
      passOf("replaces", lean, { range: { start: 60, end: 70, easeIn: 0, easeOut: 0 } }),
      passOf("adds", lean, { compose: "rotation", weight: constantCurve(0) }),
    ]) {
      const player = makePlayer({ ...shot, passes: [pass] });
      for (const frame of [1, 17.3, 49]) {
        plain.pose(frame);
        player.pose(frame);
        expect(player.worlds).toEqual(plain.worlds);
      }
    }
  });

  test("a range eases in and out", () => {
    const pass = passOf("adds", lean, { range: { start: 10, end: 30, easeIn: 10, easeOut: 10 } });
    const player = makePlayer(smallShot({}, { passes: [pass] }));
    const at = (frame: number) => {
      player.readValues(frame);
      return player.values[player.channelIndex.get("spine.rotateX") as number];
    };
    expect([at(9), at(10), at(15), at(20), at(25), at(30), at(31)]).toEqual([0, 0, 6, 12, 6, 0, 0].map((v) => expect.closeTo(v, 9)));
  });

  test("a keyed weight is read at the frame", () => {
    const weight = curveFrom([
      [1, 0],
      [11, 1],
    ]);
    const player = makePlayer(smallShot({}, { passes: [passOf("adds", lean, { weight })] }));
    player.readValues(6);
    expect(player.values[player.channelIndex.get("spine.rotateX") as number]).toBeCloseTo(6, 9);
  });

  test("solo plays only the solo passes", () => {
    const [a, b] = [passOf("adds", lean, { id: "a", solo: true, on: false }), passOf("adds", lean, { id: "b" })];
    expect(activePasses(smallShot({}, { passes: [a, b] })).map((p) => p.id)).toEqual(["a"]);
    expect(activePasses(smallShot({}, { passes: [{ ...a, solo: false }, b] })).map((p) => p.id)).toEqual(["b"]);
  });

  test("composed as rotations, a pass turns on from where the control stands", () => {
    const base = { "spine.rotateY": constantCurve(90) };
    const pass = passOf("adds", { "spine.rotateX": constantCurve(30) }, { compose: "rotation" });
    const player = makePlayer(smallShot(base, { passes: [pass] }));
    player.pose(1);
    const i = (player.controlIndex.get("spine") as number) * 4;
    const three = new Quaternion()
      .setFromEuler(new Euler(0, 90 * DEG, 0, "YXZ"))
      .multiply(new Quaternion().setFromEuler(new Euler(30 * DEG, 0, 0, "YXZ")));
    three.toArray().forEach((value, k) => {
      expect(player.turns[i + k]).toBeCloseTo(value, 9);
    });
  });

  test("unknown controls and kinds in a pass are passed over", () => {
    const stray = passOf("adds", { "gone.rotateX": constantCurve(5) });
    const odd = { ...passOf("adds", lean), id: "odd", kind: "unheard" };
    const player = makePlayer(smallShot({}, { passes: [stray, odd] }));
    player.pose(1);
    expect(player.worlds.every(Number.isFinite)).toBe(true);
  });
});

test("asked for some controls only, a player has them where the whole figure has them, bit for bit", () => {
  const free = movingShot({
    passes: [
      passOf("adds", { "spine.rotateY": constantCurve(12), "hand-right.rotateX": constantCurve(3) }, { id: "a", compose: "rotation" }),
      passOf(
        "replaces",
        { "arm-left.rotateX": constantCurve(30), "root.moveY": constantCurve(0.2) },
        { id: "b", weight: constantCurve(0.5) },
      ),
    ],
  });
  const offset = followOffset(free, "hand-left", "arm-right", 1);
  const strength = constantCurve(0.6);
  const shot = addFollow(free, {
    id: "f",
    control: "hand-left",
    target: "arm-right",
    position: true,
    rotation: true,
    strength,
    offset,
    on: true,
  });
  const whole = makePlayer(shot);
  const some = makePlayer(shot, { only: ["hand-left"] });
  for (const frame of [1, 13.25, 40]) {
    whole.pose(frame);
    some.pose(frame);
    for (const id of ["hand-left", "arm-left", "spine", "root", "arm-right"]) {
      const at = (whole.controlIndex.get(id) as number) * 16;
      expect([...some.worlds.subarray(at, at + 16)]).toEqual([...whole.worlds.subarray(at, at + 16)]);
    }
  }
  const unasked = (whole.controlIndex.get("hand-right") as number) * 16;
  expect([...some.worlds.subarray(unasked, unasked + 16)]).toEqual(Array(16).fill(0));
});
