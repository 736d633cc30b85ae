import { Tangent } from "../../src/curve/curve.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { followTarget } from "../../src/operations/spaces/followTarget.ts";
import { findPartners } from "../../src/figure/partners.ts";
import { mirrorRange } from "../../src/operations/poses/mirrorRange.ts";
import { otherHalf } from "../../src/operations/poses/otherHalf.ts";
import { type Shot, withConstraint } from "../../src/model/shot.ts";
import { changeTie } from "../../src/operations/hand/changeTie.ts";
import { runByHand } from "../../src/operations/runOperation.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { Object3D, Vector3 } from "three";
import { addControl } from "../../src/constraints/editRig.ts";
import { constraintKind } from "../../src/constraints/kinds.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { makeControl } from "../../src/model/rig.ts";
import { addCarrier } from "../../src/operations/spaces/addCarrier.ts";
import { bakeDown } from "../../src/operations/spaces/bakeDown.ts";
import { plantEnds } from "../../src/operations/spaces/plantEnds.ts";
import { switchSpace } from "../../src/operations/spaces/switchSpace.ts";
import { Chance } from "../help/chance.ts";
import { randomShot } from "../help/randomRig.ts";
import { run } from "../help/run.ts";
import { movingShot, passOf } from "../help/shots.ts";

import { apart, placeOf, walker, worldOf } from "../help/posed.ts";
const steps = (pairs: [number, number][]) => curveFrom(pairs, Tangent.stepped);

describe("plant", () => {
  test("feet are found where they stand and slide no more; told in millimetres", async () => {
    const shot = walker();
    const { shot: after, report } = await run(plantEnds, shot, { speed: 0.6, height: 0.06 });
    expect(report.notes[0]).toMatch(/^Foot left: 1 contact, slid \d+ mm, will slide 0\.00 mm\.$/);
    for (const one of after.constraints) {
      const { contacts, limb } = one.settings as { contacts: { start: number; end: number }[]; limb: string[] };
      const foot = limb[2];
      for (const { start, end } of contacts) {
        const first = worldOf(after, foot, start);
        for (let frame = start; frame <= end; frame += 0.25) expect(apart(worldOf(after, foot, frame), first)).toBeLessThan(1e-9);
      }
      // A frame beyond the ease the foot is where its own keys put it.
      for (let frame = 1; frame <= 30; frame++)
        if (contacts.every(({ start, end }) => frame < start - 3.01 || frame > end + 3.01))
          expect(apart(worldOf(after, foot, frame), worldOf(shot, foot, frame))).toBeLessThan(1e-12);
    }
    // Hips dragged: planted feet stay.
    const lower = { ...after, base: { ...after.base, "hips.moveY": constantCurve(-0.05, 1) } };
    expect(placeOf(lower, "foot-left", 15).distanceTo(placeOf(after, "foot-left", 15))).toBeLessThan(1e-5);
    const { shot: baked } = await run(bakeDown, after, { keys: "every" });
    for (let frame = 1; frame <= 30; frame++)
      expect(apart(worldOf(baked, "foot-right", frame), worldOf(after, "foot-right", frame))).toBeLessThan(1e-9);
  });

  test("says where a limb is too short, and where nothing is slow and low enough", async () => {
    const shot = walker();
    const far = {
      ...shot,
      base: {
        ...shot.base,
        "hips.moveY": curveFrom([
          [1, 0],
          [15, 0.3],
          [30, 0],
        ]),
        "shin-left.rotateX": constantCurve(2, 1),
        "thigh-left.rotateX": constantCurve(-1, 1),
      },
    };
    const { report } = await run(plantEnds, far, { find: "range" }, { controls: ["foot-left"] });
    expect(report.warnings[0]).toMatch(/^Foot left does not reach its place at frame \d+/);
    await expect(run(plantEnds, shot, { speed: 0, height: 0 })).rejects.toThrow(/nowhere slow and low/);
    await expect(run(plantEnds, movingShot())).rejects.toThrow(/no foot was found/);
  });

  test("on the move of what it stands on, and retimed with the figure", async () => {
    const shot = addControl(walker(), makeControl("ferry", { name: "Ferry", role: "set" }));
    const rocking = {
      ...shot,
      base: {
        ...shot.base,
        "ferry.rotateZ": curveFrom([
          [1, 0],
          [15, 6],
          [30, -4],
        ]),
      },
    };
    const { shot: after } = await run(plantEnds, rocking, { find: "range", ground: "ferry", stretches: true }, { controls: ["foot-left"] });
    const seen = (frame: number) =>
      placeOf(after, "foot-left", frame).applyMatrix4(new Object3D().matrix.fromArray([...worldOf(after, "ferry", frame)]).invert());
    for (let frame = 1; frame <= 30; frame += 0.5) expect(seen(frame).distanceTo(seen(1))).toBeLessThan(1e-9);
    const kind = constraintKind("plant");
    const told = kind?.retimed?.(after.constraints[0].settings, (frame) => 2 * frame) as { contacts: { start: number; end: number }[] };
    expect(told.contacts[0]).toMatchObject({ start: 2, end: 60 });
  });
});

describe("a carrier", () => {
  test("at rest it changes no bit, of curves or of poses; taken out everything is as it was", async () => {
    for (let seed = 1; seed <= 30; seed++) {
      const chance = new Chance(seed + 40);
      const shot = randomShot(chance);
      const ids = [chance.of(shot.rig.controls).id, chance.of(shot.rig.controls).id];
      const { shot: after } = await run(
        addCarrier,
        shot,
        { pivot: chance.of(["control", "middle", "ground", "place"]), frame: 9 },
        { controls: ids },
      );
      expect(after.base).toBe(shot.base);
      for (const frame of [1, 7.3, 30])
        for (const { id } of shot.rig.controls) expect([...worldOf(after, id, frame)]).toEqual([...worldOf(shot, id, frame)]);
    }
  });

  test("moved, it takes everything along about its pivot; baked down, the movement is kept within 1e-9 and it is gone", async () => {
    const shot = { ...movingShot(), passes: [passOf("adds", { "spine.rotateX": constantCurve(3, 1) })] };
    const { shot: made } = await run(addCarrier, shot, { pivot: "ground", name: "Elsewhere" });
    const id = made.rig.controls.find(({ name }) => name === "Elsewhere")?.id as string;
    const moved = {
      ...made,
      base: {
        ...made.base,
        [`${id}.moveX`]: constantCurve(3, 1),
        [`${id}.rotateY`]: curveFrom([
          [1, 0],
          [49, 90],
        ]),
      },
    };
    const object = new Object3D();
    object.position.set(3, 0, 0);
    object.rotation.y = Math.PI / 2;
    object.updateMatrix();
    expect(placeOf(moved, "hand-left", 49).distanceTo(placeOf(shot, "hand-left", 49).applyMatrix4(object.matrix))).toBeLessThan(1e-9);
    const { shot: baked } = await run(bakeDown, moved, { keys: "every", afterwards: "removed" }, { controls: [id] });
    expect(baked.rig.controls.map((one) => one.id)).toEqual(shot.rig.controls.map((one) => one.id));
    for (let frame = 1; frame <= 49; frame++)
      expect(apart(worldOf(baked, "hand-left", frame), worldOf(moved, "hand-left", frame))).toBeLessThan(1e-9);
    expect(baked.base["hand-left.rotateX"]).toBe(shot.base["hand-left.rotateX"]);
  });

  test("what lives in a hand that is carried is carried once; feet planted on the world go along", async () => {
    const lantern = addControl(walker(), makeControl("lantern", { name: "Lantern", role: "prop", rest: [0.4, 0.5, 0] }));
    let { shot } = await run(switchSpace, lantern, { space: "hips", frame: 10 }, { controls: ["lantern"] });
    shot = (await run(plantEnds, shot, { find: "range" }, { controls: ["foot-left"] })).shot;
    const { shot: made, report } = await run(addCarrier, shot, { pivot: "ground" });
    expect(report.notes[1]).toMatch(/1 planted end stood on the world and will stand on Carrier/);
    const moved = { ...made, base: { ...made.base, "carrier.moveX": constantCurve(2, 1), "carrier.rotateY": constantCurve(35, 1) } };
    const object = new Object3D();
    const pivot = made.rig.controls.find(({ id }) => id === "carrier")?.rest as [number, number, number];
    const shifted = (at: Vector3) => {
      object.position.set(pivot[0] + 2, pivot[1], pivot[2]);
      object.rotation.y = (35 * Math.PI) / 180;
      object.updateMatrix();
      return at.sub(new Vector3(...pivot)).applyMatrix4(object.matrix);
    };
    // Baked down the feet go along too; let go of, everything stands where it did.
    const { shot: baked } = await run(bakeDown, moved, { keys: "every", afterwards: "removed" }, { controls: ["carrier"] });
    expect(baked.rig.controls.some(({ id }) => id === "carrier")).toBe(false);
    for (const id of ["foot-left", "hips"])
      for (const frame of [1, 12, 30]) expect(apart(worldOf(baked, id, frame), worldOf(moved, id, frame))).toBeLessThan(1e-9);
    const tie = moved.constraints.find(({ kind }) => kind === "carry")?.id as string;
    const free = runByHand(changeTie, moved, WHOLE_FIGURE, { tie, to: null }).shot;
    expect(free.rig.controls.length).toBe(shot.rig.controls.length);
    for (const id of ["foot-left", "hips"]) expect(apart(worldOf(free, id, 9), worldOf(shot, id, 9))).toBeLessThan(1e-9);
    for (const frame of [4, 20])
      for (const id of ["lantern", "foot-left", "hips"])
        expect(placeOf(moved, id, frame).distanceTo(shifted(placeOf(shot, id, frame)))).toBeLessThan(1e-9);
  });
});

test("what follows something carried is carried once, and by itself where it does not, in whatever order frames are seen", async () => {
  const free = addControl(walker(), makeControl("lantern", { name: "Lantern", role: "prop", rest: [0.4, 0.5, 0] }));
  let shot = (await run(followTarget, free, { target: "hips", frame: 5 }, { controls: ["lantern"] })).shot;
  const tie = shot.constraints[0].id;
  shot = withConstraint(shot, tie, (one) => ({
    ...one,
    curves: {
      [`${tie}.strength`]: steps([
        [1, 1],
        [15, 0],
      ]),
    },
  }));
  const { shot: made } = await run(addCarrier, shot, { pivot: "ground" });
  const moved = { ...made, base: { ...made.base, "carrier.moveX": constantCurve(2, 1) } };
  const player = makePlayer(moved);
  const at = 16 * (player.controlIndex.get("lantern") as number) + 12;
  for (const frame of [20, 5, 20, 4, 25]) {
    player.pose(frame);
    expect(player.worlds[at] - worldOf(shot, "lantern", frame)[12]).toBeCloseTo(2, 9);
  }
});

describe("planted feet mirrored", () => {
  const sided = () => {
    const shot = walker();
    return { ...shot, rig: { ...shot.rig, controls: findPartners(shot.rig.controls) } };
  };
  const contactsOf = (shot: Shot, foot: string) =>
    (
      shot.constraints.find(({ settings }) => (settings as { limb: string[] }).limb.at(-1) === foot)?.settings as
        | { contacts: { start: number; end: number; place: number[] }[] }
        | undefined
    )?.contacts;

  test("the other half plants the other foot where its mirrored motion has it, as long later", async () => {
    const { shot } = await run(plantEnds, sided(), { find: "range" }, { controls: ["foot-left"], range: { start: 4, end: 12 } });
    const { shot: after, report } = await run(otherHalf, shot, { closes: false }, { range: { start: 1, end: 15 } });
    expect(contactsOf(after, "foot-right")).toMatchObject([{ start: 18, end: 26 }]);
    expect(contactsOf(after, "foot-left")).toEqual(contactsOf(shot, "foot-left"));
    for (let frame = 18; frame <= 26; frame++)
      expect(placeOf(after, "foot-right", frame).distanceTo(placeOf(after, "foot-right", 18))).toBeLessThan(1e-9);
    const free = { ...after, constraints: [] };
    expect(placeOf(after, "foot-right", 22).distanceTo(placeOf(free, "foot-right", 22))).toBeLessThan(0.05);
    expect(report.warnings.some((text) => text.includes("planted"))).toBe(false);
  });

  test("a range mirrored in place changes the sides of its contacts; the others stay", async () => {
    let { shot } = await run(plantEnds, sided(), { find: "range" }, { controls: ["foot-left"], range: { start: 4, end: 10 } });
    shot = (await run(plantEnds, shot, { find: "range" }, { controls: ["foot-left"], range: { start: 20, end: 26 } })).shot;
    expect(contactsOf(shot, "foot-left")).toMatchObject([{ start: 4 }, { start: 20 }]);
    const { shot: after } = await run(mirrorRange, shot, {}, { range: { start: 1, end: 15 } });
    expect(contactsOf(after, "foot-left")).toMatchObject([{ start: 20, end: 26 }]);
    expect(contactsOf(after, "foot-right")).toMatchObject([{ start: 4, end: 10 }]);
  });
});
