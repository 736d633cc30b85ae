import { missingOf } from "../../src/constraints/ledControls.ts";
import { graphOf } from "../../src/constraints/graph.ts";
import { addControl, reparent, takeOut } from "../../src/constraints/editRig.ts";
import { constantCurve } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { checkShot } from "../../src/formats/checkShot.ts";
import { controlById, makeControl } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { addFollow, followOffset } from "../help/follows.ts";
import { passFor } from "../help/passes.ts";
import { movingShot, passOf } from "../help/shots.ts";

/** Where controls are in the world at a frame, by id. */
function worlds(shot: Shot, frame: number): Record<string, number[]> {
  const player = makePlayer(shot);
  player.pose(frame);
  return Object.fromEntries(shot.rig.controls.map(({ id }, i) => [id, [...player.worlds.subarray(i * 16, i * 16 + 16)]]));
}

/** The rig at rest, some of it turned at rest. */
function resting(): Shot {
  const shot = movingShot({ base: {} });
  const turned = (id: string) => (id === "spine" || id === "arm-left" ? ([0.1, 0.7, -0.1, 0.7] as const) : ([0, 0, 0, 1] as const));
  const unit = (q: readonly number[]) => q.map((value) => value / Math.hypot(...q)) as [number, number, number, number];
  const controls = shot.rig.controls.map((control) => ({ ...control, restTurn: unit(turned(control.id)) }));
  return { ...shot, rig: { ...shot.rig, controls } };
}

function expectSamePlaces(before: Shot, after: Shot): void {
  const [was, is] = [worlds(before, 1), worlds(after, 1)];
  for (const id of Object.keys(is).filter((one) => was[one])) for (let k = 0; k < 16; k++) expect(is[id][k]).toBeCloseTo(was[id][k], 12);
}

test("controls put under another one rest where they did, and stand after it", () => {
  const shot = resting();
  const after = checkShot(reparent(shot, ["arm-left", "hand-right"], "root"));
  expect(controlById(after.rig, "arm-left")?.parent).toBe("root");
  expectSamePlaces(shot, after);
  expectSamePlaces(shot, checkShot(reparent(shot, ["spine"], null)));
});

test("nothing can hang on itself", () => {
  expect(() => reparent(resting(), ["spine"], "hand-left")).toThrow(/hang on itself/);
  expect(() => reparent(resting(), ["spine"], "moon")).toThrow(/no control "moon"/);
});

test("nor on what follows it", () => {
  const shot = movingShot();
  const offset = followOffset(shot, "root", "arm-left", 1);
  const apart = reparent(shot, ["arm-left"], null);
  const follow = {
    id: "f",
    control: "root",
    target: "arm-left",
    position: true,
    rotation: true,
    strength: constantCurve(1),
    offset,
    on: true,
  };
  expect(() => reparent(addFollow(apart, follow), ["arm-left"], "spine")).toThrow(/moves with.*circle/);
});

test("a control put above others moves them, and at rest changes nothing", () => {
  const shot = resting();
  const made = makeControl("shoulders", { rest: [0.3, 1, 0.2] });
  const after = checkShot(reparent(addControl(shot, made), ["arm-left", "arm-right"], made.id));
  expectSamePlaces(shot, after);
  const moved = worlds({ ...after, base: { "shoulders.moveY": constantCurve(2) } }, 1);
  expect(moved["hand-left"][13] - worlds(after, 1)["hand-left"][13]).toBeCloseTo(2, 12);
  expect(() => addControl(shot, makeControl("spine"))).toThrow(/already/);
});

test("what is taken out leaves nothing that points at it", () => {
  const whole = movingShot({
    passes: [
      passOf("adds", { "spine.rotateX": constantCurve(1), "root.rotateX": constantCurve(1) }),
      passFor("tremor", { rotate: 1 }, { members: ["spine.rotateX", "root.moveX"] }),
    ],
    locked: ["spine.rotateX"],
    sets: [{ name: "Back", channels: ["spine.rotateX", "root.rotateY"] }],
  });
  const offset = followOffset(whole, "hand-left", "hand-right", 1);
  const shot = addFollow(whole, {
    id: "f",
    control: "hand-left",
    target: "hand-right",
    position: true,
    rotation: true,
    strength: constantCurve(1),
    offset,
    on: true,
  });
  const after = checkShot(takeOut(shot, "spine"));
  expect(JSON.stringify(after)).not.toContain("spine");
  expect(controlById(after.rig, "arm-left")?.parent).toBe("root");
  expect(after.constraints).toHaveLength(1);
  // What followed it has its row still, without a say.
  const gone = takeOut(after, "hand-right");
  expect(graphOf(gone.rig, gone.constraints).parts).toHaveLength(0);
  expect(missingOf(gone, gone.constraints[0])).toEqual(["hand-right"]);
  expect(controlById(takeOut(after, "hand-right").rig, "hand-left")?.partner).toBeNull();
});
