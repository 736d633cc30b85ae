import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { Object3D, Quaternion, Vector3 } from "three";
import { addConstraint } from "../../src/constraints/addConstraint.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { multiplyAffine } from "../../src/maths/matrix.ts";
import type { Shot } from "../../src/model/shot.ts";
import { aimAt } from "../../src/operations/spaces/aimAt.ts";
import { bakeDown } from "../../src/operations/spaces/bakeDown.ts";
import { followTarget } from "../../src/operations/spaces/followTarget.ts";
import { matchReach } from "../../src/operations/spaces/matchReach.ts";
import { reachFor } from "../../src/operations/spaces/reachFor.ts";
import { Chance } from "../help/chance.ts";
import { randomShot } from "../help/randomRig.ts";
import { run } from "../help/run.ts";
import { movingShot } from "../help/shots.ts";

import { apart, placeOf, posed, walker, worldOf } from "../help/posed.ts";
describe("aim", () => {
  test("points an axis at the target, as three's lookAt with an axis kept up, and wherever it hangs", async () => {
    for (let seed = 1; seed <= 60; seed++) {
      const chance = new Chance(seed);
      const shot = randomShot(chance);
      const free = {
        ...shot,
        base: Object.fromEntries(Object.entries(shot.base).filter(([key]) => !key.startsWith("c1.rotate") && !key.includes("scale"))),
      };
      const [control, target] = ["c1", "c0"];
      for (const up of ["world", "carried"]) {
        const { shot: aimed } = await run(
          aimAt,
          free,
          { target, keep: "snap", axis: "z", up, upAxis: "y", frame: 12 },
          { controls: [control] },
        );
        const m = worldOf(aimed, control, 12);
        const to = placeOf(aimed, target, 12)
          .sub(placeOf(aimed, control, 12))
          .normalize();
        const restTurn = new Quaternion(...(shot.rig.controls[1].restTurn as [number, number, number, number]));
        expect(restTurn.length()).toBeCloseTo(1, 9);
        // Its own turn, none here, goes on top: closed form, the axis is where the target is.
        expect(new Vector3(m[8], m[9], m[10]).angleTo(to)).toBeLessThan(1e-7);
        if (up !== "world") continue;
        const object = new Object3D();
        object.position.copy(placeOf(aimed, control, 12));
        object.lookAt(placeOf(aimed, target, 12));
        object.updateMatrix();
        expect(apart(object.matrix.elements, m)).toBeLessThan(1e-9);
      }
    }
  });

  test("with its offset kept nothing turns where it is made, own keys go on top; a target right on it says nothing", async () => {
    const shot = movingShot();
    for (const up of ["carried", "world"]) {
      const { shot: aimed } = await run(aimAt, shot, { target: "hand-right", up, frame: 13 }, { controls: ["hand-left"] });
      expect(apart(worldOf(aimed, "hand-left", 13), worldOf(shot, "hand-left", 13))).toBeLessThan(1e-12);
    }
    const { shot: self } = await run(
      aimAt,
      shot,
      { point: placeOf(shot, "hand-left", 5).toArray().join(" "), keep: "snap", frame: 5 },
      { controls: ["hand-left"] },
    );
    expect(apart(worldOf(self, "hand-left", 5), worldOf(shot, "hand-left", 5))).toBeLessThan(1e-12);
    await expect(run(aimAt, shot, { point: "1 two 3" }, { controls: ["hand-left"] })).rejects.toThrow(/"1 two 3" is no place/);
    await expect(
      run(aimAt, shot, { target: "hand-right", up: "world", axis: "y", upAxis: "-y" }, { controls: ["hand-left"] }),
    ).rejects.toThrow(/square/);
  });
});

describe("follow", () => {
  test("kept where it was, snapped, and by shares of several targets", async () => {
    const shot = movingShot();
    const { shot: kept } = await run(followTarget, shot, { target: "hand-right", frame: 9 }, { controls: ["hand-left"] });
    expect(apart(worldOf(kept, "hand-left", 9), worldOf(shot, "hand-left", 9))).toBeLessThan(1e-12);
    const { shot: snapped } = await run(followTarget, shot, { target: "hand-right", keep: "snap", frame: 9 }, { controls: ["hand-left"] });
    expect(apart(worldOf(snapped, "hand-left", 9), worldOf(shot, "hand-right", 9))).toBeLessThan(1e-12);
    // Its own keys go on top: a turn of its own is seen.
    const turned = { ...snapped, base: { ...snapped.base, "hand-left.rotateX": constantCurve(40, 1) } };
    expect(apart(worldOf(turned, "hand-left", 9), worldOf(snapped, "hand-left", 9))).toBeGreaterThan(0.1);
    const { shot: shared } = await run(
      followTarget,
      shot,
      { target: "hand-right", also: ["root"], keep: "snap", frame: 9 },
      { controls: ["hand-left"] },
    );
    const [tie] = shared.constraints;
    const half = { ...shared, constraints: [{ ...tie, curves: { ...tie.curves, [`${tie.id}.share root`]: constantCurve(1, 1) } }] };
    const middle = placeOf(shot, "hand-right", 9)
      .add(placeOf(shot, "root", 9))
      .multiplyScalar(0.5);
    expect(placeOf(half, "hand-left", 9).distanceTo(middle)).toBeLessThan(1e-12);
    expect(apart(worldOf(shared, "hand-left", 9), worldOf(snapped, "hand-left", 9))).toBeLessThan(1e-12);
  });

  test("with scale too it is as if it hung there", async () => {
    for (let seed = 1; seed <= 20; seed++) {
      const shot = randomShot(new Chance(seed + 70));
      const { shot: after } = await run(followTarget, shot, { target: "c0", scale: true, frame: 5 }, { controls: ["c1"] });
      const tie = after.constraints[0].settings as { offset: number[] };
      const { worlds, controlIndex } = posed(after, 21);
      const goal = new Float64Array(16);
      multiplyAffine(goal, 0, worlds, 16 * (controlIndex.get("c0") as number), tie.offset, 0);
      const own = { ...shot, rig: { ...shot.rig, controls: shot.rig.controls.map((c) => (c.id === "c1" ? { ...c, parent: null } : c)) } };
      multiplyAffine(goal, 0, goal, 0, worldOf(own, "c1", 21), 0);
      expect(apart(worldOf(after, "c1", 21), goal)).toBeLessThan(1e-12);
    }
  });
});

describe("reach", () => {
  test("made where the limb is, nothing moves; the end then goes after its target with its lengths kept", async () => {
    const shot = walker();
    const { shot: after, report } = await run(reachFor, shot, { frame: 12 }, { controls: ["foot-right"] });
    expect(report.notes).toEqual(["New control: Foot right goal.", "New control: Foot right bend."]);
    for (const id of ["thigh-right", "shin-right", "foot-right"])
      expect(apart(worldOf(after, id, 12), worldOf(shot, id, 12))).toBeLessThan(1e-9);
    const goal = after.rig.controls.find(({ name }) => name === "Foot right goal");
    const moved = { ...after, base: { ...after.base, [`${goal?.id}.moveZ`]: constantCurve(0.2, 1) } };
    expect(placeOf(moved, "foot-right", 12).distanceTo(placeOf(moved, goal?.id as string, 12))).toBeLessThan(1e-9);
    const lengths = (of: Shot) =>
      ["thigh-right", "shin-right"].map((id, n) => placeOf(of, id, 12).distanceTo(placeOf(of, ["shin-right", "foot-right"][n], 12)));
    lengths(moved).forEach((length, n) => {
      expect(Math.abs(length - lengths(shot)[n])).toBeLessThan(1e-12);
    });
    await expect(run(reachFor, shot, {}, { controls: ["thigh-right"] })).rejects.toThrow(/no 2 bones above/);
  });

  test("to plain turns and back there is no jump at any frame", async () => {
    for (const frame of [5, 9, 14, 15, 22, 27]) {
      const { shot: reaching } = await run(reachFor, walker(), { frame: 3 }, { controls: ["foot-right"] });
      const goal = reaching.rig.controls.find(({ name }) => name === "Foot right goal")?.id as string;
      const keyed = {
        ...reaching,
        base: {
          ...reaching.base,
          [`${goal}.moveY`]: curveFrom([
            [1, 0],
            [15, 0.3],
            [30, -0.02],
          ]),
          [`${goal}.moveZ`]: curveFrom([
            [1, 0],
            [15, 0.1],
            [30, 0.3],
          ]),
        },
      };
      const { shot: turns } = await run(matchReach, keyed, { to: "turns", frame }, { controls: ["foot-right"] });
      for (const at of [frame - 1, frame])
        for (const id of ["thigh-right", "shin-right", "foot-right"])
          expect(apart(worldOf(turns, id, at), worldOf(keyed, id, at))).toBeLessThan(1e-9);
      const later = Math.min(29, frame + 6);
      const { shot: again } = await run(matchReach, turns, { to: "reach", frame: later }, { controls: [goal] });
      for (const at of [frame, later - 1, later])
        for (const id of ["thigh-right", "shin-right", "foot-right"])
          expect(apart(worldOf(again, id, at), worldOf(turns, id, at))).toBeLessThan(1e-9);
    }
  });

  test("baked down, the limb has plain turns", async () => {
    const { shot } = await run(reachFor, walker(), { frame: 3, bend: "own" }, { controls: ["foot-right"] });
    const { shot: after } = await run(bakeDown, shot, { keys: "every", afterwards: "removed" }, { controls: ["foot-right"] });
    expect(after.constraints).toEqual([]);
    for (let frame = 1; frame <= 30; frame++)
      expect(apart(worldOf(after, "foot-right", frame), worldOf(shot, "foot-right", frame))).toBeLessThan(1e-9);
  });
});

test("with its row chosen a constraint is told anew: its name, switches and keys stay, and where it is led to now", async () => {
  const shot = movingShot();
  const made = (await run(followTarget, shot, { target: "hand-right", what: "place", frame: 9 }, { controls: ["hand-left"] })).shot;
  const [tie] = made.constraints;
  const key = `${tie.id}.strength`;
  const keyed = {
    ...made,
    constraints: [
      {
        ...tie,
        name: "Mine",
        curves: {
          [key]: curveFrom([
            [1, 1],
            [49, 0.5],
          ]),
        },
      },
    ],
  };
  const scope = { ...WHOLE_FIGURE, controls: ["hand-left"], layer: tie.id };
  const proposed = followTarget.situation?.({ shot: keyed, scope, frame: 9, copiedPose: null, copiedKeys: null, poseShare: 0.5 });
  expect(proposed).toMatchObject({ target: "hand-right", what: "place", also: [], scale: false });
  const after = (await run(followTarget, keyed, { ...proposed, what: "both" }, scope)).shot;
  expect(after.constraints).toMatchObject([{ id: tie.id, name: "Mine", settings: { rotation: true } }]);
  expect(after.constraints[0].curves[key].values[1]).toBe(0.5);
  expect(apart(worldOf(after, "hand-left", 9).slice(12, 15), worldOf(keyed, "hand-left", 9).slice(12, 15))).toBeLessThan(0.2);
  // Of a limb and of an aim too.
  const reaching = (await run(reachFor, walker(), { frame: 3 }, { controls: ["foot-right"] })).shot;
  const [limb] = reaching.constraints;
  const on = { ...WHOLE_FIGURE, controls: ["foot-right"], layer: limb.id };
  const asIs = reachFor.situation?.({ shot: reaching, scope: on, frame: 3, copiedPose: null, copiedKeys: null, poseShare: 0.5 });
  expect(asIs).toMatchObject({ bones: 2, bend: "control", turn: false, stretches: false, softness: 5 });
  const stretched = (await run(reachFor, reaching, { ...asIs, stretches: true }, on)).shot;
  expect(stretched.rig).toBe(reaching.rig);
  expect(apart(worldOf(stretched, "foot-right", 3), worldOf(reaching, "foot-right", 3))).toBeLessThan(1e-9);
  const aimed = (await run(aimAt, shot, { target: "hand-right", frame: 9 }, { controls: ["hand-left"] })).shot;
  const at = { ...WHOLE_FIGURE, controls: ["hand-left"], layer: aimed.constraints[0].id };
  const same = (await run(aimAt, aimed, { target: "hand-right", axis: "x", frame: 20 }, at)).shot;
  expect(same.constraints).toHaveLength(1);
  expect(apart(worldOf(same, "hand-left", 20), worldOf(aimed, "hand-left", 20))).toBeLessThan(1e-9);
});

test("a target that is gone leaves the row without a say; a solo plays alone", async () => {
  const { shot } = await run(followTarget, movingShot(), { target: "hand-right", keep: "snap", frame: 9 }, { controls: ["hand-left"] });
  const rig = { ...shot.rig, controls: shot.rig.controls.filter(({ id }) => id !== "hand-right") };
  const gone = { ...shot, rig };
  expect(apart(worldOf(gone, "hand-left", 9), worldOf(movingShot(), "hand-left", 9))).toBe(0);
  const off = addConstraint(shot, {
    id: "other",
    name: "other",
    kind: "follow",
    on: true,
    solo: true,
    settings: { ...shot.constraints[0].settings, control: "arm-left", target: "root" },
    curves: {},
  });
  expect(
    apart(
      worldOf(
        {
          ...off,
          constraints: off.constraints.map((one) =>
            one.id === "other" ? { ...one, curves: { "other.strength": constantCurve(0, 1) } } : one,
          ),
        },
        "hand-left",
        9,
      ),
      worldOf(movingShot(), "hand-left", 9),
    ),
  ).toBe(0);
});
