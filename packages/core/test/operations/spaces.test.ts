import { swapPoses } from "../../src/operations/poses/swapPoses.ts";
import { Matrix4, Object3D } from "three";
import { addConstraint } from "../../src/constraints/addConstraint.ts";
import { addControl } from "../../src/constraints/editRig.ts";
import { aimAt } from "../../src/operations/spaces/aimAt.ts";
import { makeControl } from "../../src/model/rig.ts";
import { space } from "../../src/constraints/space.ts";
import { switchesOf } from "../../src/constraints/spaces.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { Tangent } from "../../src/curve/curve.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { reverse } from "../../src/operations/timing/reverse.ts";
import { stepping } from "../../src/operations/timing/stepping.ts";
import { pullTo } from "../../src/figure/pull.ts";
import { keyChannels } from "../../src/operations/shared/keyChannels.ts";
import { matchReach } from "../../src/operations/spaces/matchReach.ts";
import { reachFor } from "../../src/operations/spaces/reachFor.ts";
import { plantEnds } from "../../src/operations/spaces/plantEnds.ts";
import { followTarget } from "../../src/operations/spaces/followTarget.ts";
import { switchSpace } from "../../src/operations/spaces/switchSpace.ts";
import { moveSwitches } from "../../src/operations/hand/moveSwitches.ts";
import { runByHand } from "../../src/operations/runOperation.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { type Shot, withConstraint } from "../../src/model/shot.ts";
import { Chance } from "../help/chance.ts";
import { randomShot } from "../help/randomRig.ts";
import { run } from "../help/run.ts";
import { movingShot, passOf } from "../help/shots.ts";

import { apart, below, walker, worldOf } from "../help/posed.ts";
/** A shot in which a control is carried by one that moves and turns. */
function carried(shot: Shot, control: string, chance: Chance): Shot {
  const key = (channel: string) => `k.${channel}`;
  const base = {
    [key("rotateY")]: curveFrom([
      [1, 0],
      [30, chance.between(-90, 90)],
    ]),
    [key("moveX")]: curveFrom([
      [1, 0],
      [30, chance.between(-2, 2)],
    ]),
  };
  const withCarrier = addControl(shot, makeControl("k", { rest: [chance.between(-1, 1), 0, 0.3] }));
  return addConstraint(
    { ...withCarrier, base: { ...shot.base, ...base } },
    { id: "carry", name: "carry", kind: "carry", on: true, settings: { carrier: "k", controls: [control] }, curves: {} },
  );
}

describe("a switch of space", () => {
  test("on rigs by chance, turned and scaled, the pose stays at the frame and one before it", async () => {
    let tried = 0;
    for (let seed = 1; seed <= 60; seed++) {
      const chance = new Chance(seed);
      const shot = randomShot(chance);
      const control = chance.of(shot.rig.controls).id;
      const others = shot.rig.controls.filter(({ id }) => !below(shot, control).has(id)).map(({ id }) => id);
      const into = chance.next() < 0.3 || others.length === 0 ? "*world" : chance.of(others);
      const frame = 2 + chance.below(27);
      const keys = chance.of(["own", "every"] as const);
      if ((into === "*world" ? null : into) === shot.rig.controls.find(({ id }) => id === control)?.parent) continue;
      const { shot: after } = await run(switchSpace, shot, { space: into, frame, keys }, { controls: [control] });
      tried++;
      for (const at of [frame, frame - 1, 1, ...(frame > 3 ? [2.5] : [])])
        expect(apart(worldOf(after, control, at), worldOf(shot, control, at))).toBeLessThan(1e-9);
      // Every key there is keeps its pose, and on every frame all of them do.
      for (const at of keys === "every"
        ? Array.from({ length: 30 - frame }, (_, n) => frame + 1 + n)
        : [9, 20, 30].filter((key) => key > frame))
        expect(apart(worldOf(after, control, at), worldOf(shot, control, at))).toBeLessThan(1e-9);
      // A second switch over the first keeps it too.
      const again = await run(switchSpace, after, { space: "*parent", frame: frame + 3, keys }, { controls: [control] }).catch(() => null);
      if (again)
        for (const at of [frame - 1, frame, frame + 2, frame + 3])
          expect(apart(worldOf(again.shot, control, at), worldOf(after, control, at))).toBeLessThan(1e-9);
    }
    expect(tried).toBeGreaterThan(40);
  });

  test("agrees with three's Object3D.attach", async () => {
    for (let seed = 1; seed <= 20; seed++) {
      const chance = new Chance(seed + 500);
      const shot = randomShot(chance);
      const [control, into] = ["c1", "c0"];
      if (below(shot, control).has(into)) continue;
      const positive = {
        ...shot,
        base: Object.fromEntries(
          Object.entries(shot.base).map(([key, curve]) => [
            key,
            key.includes("scale") ? constantCurve(Math.abs(curve.values[0]), 1) : curve,
          ]),
        ),
      };
      const { shot: after } = await run(switchSpace, positive, { space: into, frame: 12 }, { controls: [control] });
      // The same in three: both stand in the world, then one is attached to the other.
      const top = new Object3D();
      const [a, b] = [control, into].map((id) => {
        const object = new Object3D();
        new Matrix4().fromArray(worldOf(positive, id, 12)).decompose(object.position, object.quaternion, object.scale);
        top.add(object);
        return object;
      });
      top.updateMatrixWorld(true);
      b.attach(a);
      top.updateMatrixWorld(true);
      const player = makePlayer(after);
      player.pose(12);
      const target = new Matrix4().fromArray(player.worlds, 16 * (player.controlIndex.get(into) as number));
      const own = new Matrix4().fromArray(player.worlds, 16 * (player.controlIndex.get(control) as number));
      // three and the shot say the same of where it stands in what it lives in.
      expect(apart(target.invert().multiply(own).elements, a.matrix.elements)).toBeLessThan(1e-9);
    }
  });
});

describe("a switch among passes and constraints, changed again", () => {
  test("with passes that add, over what they make of it; a pass that replaces it is named", async () => {
    const shot = movingShot({
      passes: [
        passOf("adds", {
          "hand-left.rotateX": curveFrom([
            [1, 0],
            [20, 30],
            [49, -10],
          ]),
          "hand-left.moveY": constantCurve(0.2, 1),
        }),
        {
          ...passOf("adds", {
            "hand-left.rotateZ": curveFrom([
              [1, 20],
              [49, -50],
            ]),
          }),
          id: "turns",
          compose: "rotation",
        },
      ],
    });
    const { shot: after } = await run(switchSpace, shot, { space: "*world", frame: 20 }, { controls: ["hand-left"] });
    for (const at of [1, 10, 19, 20, 49]) expect(apart(worldOf(after, "hand-left", at), worldOf(shot, "hand-left", at))).toBeLessThan(1e-6);
    const over = { ...shot, passes: [...shot.passes, passOf("replaces", { "hand-left.rotateX": constantCurve(5, 1) }, { name: "Cover" })] };
    await expect(run(switchSpace, over, { space: "*world", frame: 20 }, { controls: ["hand-left"] })).rejects.toThrow(
      /"Cover" leaves base motion no say at frame/,
    );
  });

  test("of a control that other constraints lead as well, by any strength, the pose stays too", async () => {
    for (let seed = 1; seed <= 30; seed++) {
      const chance = new Chance(seed + 300);
      const shot = randomShot(chance);
      const control = "c1";
      const others = shot.rig.controls.filter(({ id }) => !below(shot, control).has(id)).map(({ id }) => id);
      const strength = chance.of([0, 0.3, 1]);
      const what = chance.of(["both", "place", "turn"]);
      let led = (await run(followTarget, shot, { target: "c0", frame: 5, what }, { controls: [control] })).shot;
      led = {
        ...led,
        constraints: led.constraints.map((one) => ({ ...one, curves: { [`${one.id}.strength`]: constantCurve(strength, 1) } })),
      };
      if (chance.next() < 0.5) led = (await run(aimAt, led, { target: chance.of(others), frame: 7 }, { controls: [control] })).shot;
      if (chance.next() < 0.5) led = carried(led, control, chance);
      const { shot: after } = await run(switchSpace, led, { space: chance.of(others), frame: 12 }, { controls: [control] });
      for (const at of [11, 12, 20, 30]) expect(apart(worldOf(after, control, at), worldOf(led, control, at))).toBeLessThan(1e-9);
    }
  });

  test("dragged, changed and taken out, it keeps the poses at keys and at both its frames", async () => {
    const shot = movingShot();
    const { shot: there } = await run(switchSpace, shot, { space: "*world", frame: 20 }, { controls: ["hand-left"] });
    const before = switchesOf(there, "hand-left");
    expect(before.map(({ frame, space: id }) => [frame, id])).toEqual([
      [Number.NEGATIVE_INFINITY, "arm-left"],
      [20, null],
    ]);
    const dragged = runByHand(moveSwitches, there, WHOLE_FIGURE, {
      control: "hand-left",
      switches: [
        { frame: null, space: "arm-left" },
        { frame: 30, space: null },
      ],
      keep: "poses",
    }).shot;
    for (const at of [1, 13, 19, 20, 29, 30, 49])
      expect(apart(worldOf(dragged, "hand-left", at), worldOf(there, "hand-left", at))).toBeLessThan(1e-9);
    const out = runByHand(moveSwitches, dragged, WHOLE_FIGURE, {
      control: "hand-left",
      switches: [{ frame: null, space: "arm-left" }],
      keep: "poses",
    }).shot;
    for (const at of [1, 13, 19, 20, 29, 30, 49])
      expect(apart(worldOf(out, "hand-left", at), worldOf(dragged, "hand-left", at))).toBeLessThan(1e-9);
    expect(out.constraints).toEqual([]);
    // Where a switch was, the way from the frame before it is straight and not thrown about.
    for (let at = 19; at <= 20; at += 0.125)
      expect(apart(worldOf(out, "hand-left", at), worldOf(out, "hand-left", Math.round(at)))).toBeLessThan(0.15);
    expect(out.base["hand-left.rotateX"].kindOut.includes(Tangent.stepped)).toBe(false);
    const values = runByHand(moveSwitches, there, WHOLE_FIGURE, {
      control: "hand-left",
      switches: [{ frame: null, space: "arm-left" }],
      keep: "values",
    }).shot;
    expect(values.base).toBe(there.base);
  });
});

describe("a switch, what it leaves and refuses", () => {
  test("fewest keys keep the motion within what is written", async () => {
    const shot = movingShot();
    const { shot: after, report } = await run(
      switchSpace,
      shot,
      { space: "*world", frame: 15, keys: "fewest", rotation: 0.1, move: 0.001 },
      { controls: ["hand-left"] },
    );
    expect(report.drift?.place.amount).toBeLessThan(0.0025);
    expect(after.base["hand-left.moveX"].times.length).toBeLessThan(25);
  });

  test("the world, what it hangs on and others: a circle is refused with the chain of names", async () => {
    await expect(run(switchSpace, movingShot(), { space: "hand-left", frame: 5 }, { controls: ["spine"] })).rejects.toThrow(
      /"arm left" moves with "spine" moves with "hand left" moves with "arm left": a circle/,
    );
    await expect(run(switchSpace, movingShot(), { space: "moon", frame: 5 }, { controls: ["spine"] })).rejects.toThrow(/no control "moon"/);
    await expect(
      run(switchSpace, { ...movingShot(), locked: ["hand-left.moveX"] }, { space: "*world", frame: 5 }, { controls: ["hand-left"] }),
    ).rejects.toThrow(/locked/);
  });

  test("a circle through a pass that lets a control ride along with a camera is refused, with the names", async () => {
    const shot = addControl(movingShot(), makeControl("camera", { name: "Camera", role: "camera" }));
    const { shot: riding } = await run(stepping, shot, { ride: true, root: "root", camera: "camera" });
    await expect(run(switchSpace, riding, { space: "spine", frame: 5 }, { controls: ["camera"] })).rejects.toThrow(
      /"Camera".*"root".*: a circle/,
    );
    const { shot: filmed } = await run(switchSpace, shot, { space: "spine", frame: 5 }, { controls: ["camera"] });
    await expect(run(stepping, filmed, { ride: true, root: "root", camera: "camera" })).rejects.toThrow(/a circle/);
  });

  test("what lives elsewhere is said where its poses come to other frames", async () => {
    const { shot } = await run(switchSpace, movingShot(), { space: "*world", frame: 20 }, { controls: ["hand-left"] });
    const { report } = await run(swapPoses, shot, { one: 13, other: 25 }, { controls: ["hand-left"] });
    expect(report.warnings).toContain("hand left lives in a space of its own: in another space the same values are another place.");
    expect((await run(swapPoses, shot, { one: 13, other: 25 }, { controls: ["spine"] })).report.warnings).toEqual([]);
  });

  test("reversed, everything goes along: spaces, contacts and strengths, whole or within a range", async () => {
    let shot = (await run(switchSpace, movingShot(), { space: "*world", frame: 20, keys: "every" }, { controls: ["hand-left"] })).shot;
    shot = (await run(switchSpace, shot, { space: "root", frame: 33, keys: "every" }, { controls: ["hand-left"] })).shot;
    shot = (await run(followTarget, shot, { target: "arm-right", frame: 5 }, { controls: ["hand-right"] })).shot;
    const tie = shot.constraints.find(({ kind }) => kind === "follow")?.id as string;
    shot = withConstraint(shot, tie, (one) => ({
      ...one,
      curves: {
        [`${tie}.strength`]: curveFrom([
          [1, 0],
          [20, 1],
          [49, 0.2],
        ]),
      },
    }));
    for (const range of [null, { start: 10, end: 40 }]) {
      const { shot: after } = await run(reverse, shot, {}, { range });
      const { start, end } = range ?? shot.range;
      // Beside a range that is turned round the motion leads to other poses, as it always does.
      for (let frame = start; frame <= end; frame++)
        for (const id of ["hand-left", "hand-right"])
          expect(apart(worldOf(after, id, frame), worldOf(shot, id, start + end - frame))).toBeLessThan(1e-9);
    }
    const planted = (await run(plantEnds, walker(), { find: "range" }, { controls: ["foot-left"], range: { start: 4, end: 12 } })).shot;
    const { shot: back } = await run(reverse, planted);
    for (let frame = 1; frame <= 30; frame++)
      expect(apart(worldOf(back, "foot-left", frame), worldOf(planted, "foot-left", 31 - frame))).toBeLessThan(1e-9);
  });

  test("in the space it lives in it is pulled to where the pointer is, its limb held too; what is planted is not pulled", async () => {
    const { shot } = await run(switchSpace, movingShot(), { space: "*world", frame: 10 }, { controls: ["arm-left"] });
    const player = makePlayer(shot);
    const goal = [0.9, 1.4, 0.2] as const;
    for (const by of ["turn", "reach"] as const) {
      const values = pullTo(player, 20, { control: "hand-left", spot: [0.1, 0, 0] }, by, goal);
      const pulled = keyChannels(shot, "base", 20, values);
      const near = (of: Shot) => {
        const m = worldOf(of, "hand-left", 20);
        return Math.hypot(...[0, 1, 2].map((k) => m[k] * 0.1 + m[12 + k] - goal[k]));
      };
      expect(near(pulled)).toBeLessThan(near(shot));
    }
    const { shot: planted } = await run(plantEnds, walker(), { find: "range" }, { controls: ["foot-left"] });
    expect(() => pullTo(makePlayer(planted), 9, { control: "foot-left", spot: [0, 0, 0] }, "reach", goal)).toThrow(
      /Foot left is led by something else/,
    );
    // Where it is not planted, or its reach has no strength, its limb is pulled as ever.
    const foot = { control: "foot-left", spot: [0, 0, 0] } as const;
    const there = [0.12, 0.1, 0.1] as const;
    const { shot: later } = await run(
      plantEnds,
      walker(),
      { find: "range", ease: 0 },
      { controls: ["foot-left"], range: { start: 20, end: 26 } },
    );
    expect(Object.keys(pullTo(makePlayer(later), 9, foot, "reach", there)).some((key) => key.startsWith("thigh-left"))).toBe(true);
    const reaching = (await run(reachFor, walker(), { frame: 3 }, { controls: ["foot-left"] })).shot;
    const { shot: turns } = await run(matchReach, reaching, { to: "turns", frame: 8 }, { controls: ["foot-left"] });
    expect(() => pullTo(makePlayer(turns), 5, foot, "reach", there)).toThrow(/led by something else/);
    expect(Object.keys(pullTo(makePlayer(turns), 12, foot, "reach", there)).length).toBeGreaterThan(5);
  });

  test("a control whose channels rest is where it rests in any space", () => {
    const shot = { ...movingShot(), base: {} };
    const settings = { control: "hand-left", spaces: ["arm-left", null, "root", "hand-right"] };
    for (let n = 0; n < 4; n++) {
      const tied = addConstraint(shot, {
        id: "s",
        name: "s",
        kind: space.id,
        on: true,
        settings,
        curves: { "s.space": constantCurve(n, 1) },
      });
      expect(apart(worldOf(tied, "hand-left", 1), worldOf(shot, "hand-left", 1))).toBeLessThan(1e-15);
    }
  });
});
