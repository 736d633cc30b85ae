import { Matrix4, Quaternion, Vector3 } from "three";
import { fitClip } from "../../src/actions/fitClip.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { rotationOrders } from "../../src/maths/rotation.ts";
import type { Clip } from "../../src/model/clip.ts";
import { type Control, channelKey, rotateChannels } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { emptyShot } from "../../src/model/shotFields.ts";
import { layAction } from "../../src/operations/actions/layAction.ts";
import { Chance } from "../help/chance.ts";
import { type Bone, standingFigure } from "../help/figures.ts";
import { anyTurn } from "../help/randomRig.ts";
import { run } from "../help/run.ts";

/*
 * What a figure does is compared in the world, by three's own matrices: the same parts point the same way, whatever the
 * rigs are like. Turns carried as turns from rest: Gleicher 1998, "Retargetting Motion to New Characters" (from memory).
 */

const rigOf = (controls: readonly Control[]) => ({ id: "rig", name: "Rig", controls, figure: null });
const shotOf = (controls: readonly Control[], base: Shot["base"], length: number): Shot =>
  emptyShot({ id: "s", name: "S", rig: rigOf(controls), range: { start: 0, end: length }, base });

/** A walk of sorts of everything a figure has, keyed on fives; dense: on every frame. */
function danceOf(controls: readonly Control[], seed: number, dense = false): Clip {
  const chance = new Chance(seed);
  const length = 20;
  const times = dense ? Array.from({ length: length + 1 }, (_, n) => n) : [0, 5, 10, 15, 20];
  const curves: Record<string, ReturnType<typeof curveFrom>> = {};
  for (const { id, channels } of controls)
    for (const channel of channels)
      curves[channelKey(id, channel)] = curveFrom(
        times.map((t) => [t, channel.startsWith("move") ? chance.between(-0.3, 0.3) : chance.between(-50, 50)]),
      );
  return { rate: { num: 24, den: 1 }, from: 0, length, whole: false, curves, controls, figure: null };
}

const turnIn = (shot: Shot, id: string, frame: number) => {
  const player = makePlayer(shot);
  player.pose(frame);
  const at = 16 * (player.controlIndex.get(id) as number);
  const matrix = new Matrix4().fromArray(player.worlds.slice(at, at + 16) as never);
  const [place, turn] = [new Vector3(), new Quaternion()];
  matrix.decompose(place, turn, new Vector3());
  return { place, turn };
};
const wayIn = (shot: Shot, a: string, b: string, frame: number) =>
  turnIn(shot, b, frame)
    .place.clone()
    .sub(turnIn(shot, a, frame).place)
    .normalize();
/** three gives up to 1e-8 where it takes the arc cosine of what is nearly 1. */
const NEAR = 1e-6;

const own = standingFigure();
const turned = (more: (control: Control, chance: Chance) => Partial<Control>, seed: number) => {
  const chance = new Chance(seed);
  return own.map((control) => ({ ...control, ...more(control, chance) }));
};

describe("a clip taken over by a figure", () => {
  test("of its own kind keeps every key, as the very same curves", () => {
    const clip = danceOf(own, 1);
    const fitted = fitClip(clip, rigOf(own));
    expect(fitted.ratio).toBe(1);
    for (const key in clip.curves) expect(fitted.clip.curves[key]).toBe(clip.curves[key]);
    expect([fitted.unmatched, fitted.retold, fitted.rested]).toEqual([[], [], []]);
  });

  test("ten times as large keeps the turns and goes ten times as far", () => {
    const large = standingFigure((bones) => bones, 10);
    const clip = danceOf(own, 2);
    const fitted = fitClip(clip, rigOf(large));
    expect(fitted.ratio).toBeCloseTo(10, 9);
    expect(fitted.size.by).toBe("legs");
    expect(fitted.retold).toEqual([]);
    expect([...fitted.clip.curves["c0.moveX"].values]).toEqual(
      [...clip.curves["pelvis.moveX"].values].map((x) => expect.closeTo(10 * x, 9)),
    );
    expect(fitted.clip.curves["c2.rotateX"]).toBe(clip.curves["chest.rotateX"]);
    expect(fitClip(clip, rigOf(large), { ratio: 3 }).clip.curves["c0.moveX"].values[1]).toBeCloseTo(
      3 * clip.curves["pelvis.moveX"].values[1],
      12,
    );
  });

  test("with other orders of rotation and other turns at rest turns in the world as the other does, at every frame", () => {
    for (let seed = 1; seed <= 6; seed++) {
      const other = restingTurned(
        turned((_, chance) => ({ order: chance.of(rotationOrders) }), seed),
        seed,
      );
      const clip = danceOf(own, seed, true);
      const fitted = fitClip(clip, rigOf(other), { limbs: "left" });
      const [mine, theirs] = [shotOf(own, clip.curves, 20), shotOf(other, fitted.clip.curves, 20)];
      for (const { id } of own)
        for (const frame of [0, 7, 20]) {
          const went = turnIn(mine, id, frame).turn.multiply(turnIn(shotOf(own, {}, 20), id, 0).turn.invert());
          const goes = turnIn(theirs, id, frame).turn.multiply(turnIn(shotOf(other, {}, 20), id, 0).turn.invert());
          expect(went.angleTo(goes)).toBeLessThan(NEAR);
        }
    }
  });

  test("keyed on fives has keys there, and is within half a degree at every frame between, by as few more as it takes", () => {
    const other = restingTurned(own, 3);
    const clip = danceOf(own, 3);
    const fitted = fitClip(clip, rigOf(other), { limbs: "left" });
    const { times } = fitted.clip.curves["chest.rotateX"];
    for (const time of [0, 5, 10, 15, 20]) expect(times).toContain(time);
    expect(times.length).toBeLessThan(16);
    const [mine, theirs] = [shotOf(own, clip.curves, 20), shotOf(other, fitted.clip.curves, 20)];
    const off = (frame: number, id = "pelvis") => {
      const went = turnIn(mine, id, frame).turn.multiply(turnIn(shotOf(own, {}, 20), id, 0).turn.invert());
      return went.angleTo(turnIn(theirs, id, frame).turn.multiply(turnIn(shotOf(other, {}, 20), id, 0).turn.invert()));
    };
    for (const frame of [0, 5, 10, 15, 20]) expect(off(frame, "chest")).toBeLessThan(NEAR);
    for (let frame = 0; frame <= 20; frame++) expect(off(frame)).toBeLessThan((0.5001 * Math.PI) / 180);
  });

  test("with arms stretched out at rest: arms and legs point as they do in the action", () => {
    const other = standingFigure(stretchedArms);
    const clip = danceOf(other, 4, true);
    const fitted = fitClip(clip, rigOf(own));
    expect(fitted.apart).toBeGreaterThan(60);
    expect(fitted.laidLimbs).toBe(true);
    const [from, to] = [shotOf(other, clip.curves, 20), shotOf(own, fitted.clip.curves, 20)];
    const idOf = (name: string) => other.find(({ part }) => part === name)?.id as string;
    for (const [a, b] of [
      ["upper-left", "fore-left"],
      ["fore-left", "hand-left"],
      ["upper-right", "fore-right"],
      ["thigh-left", "shin-left"],
      ["shin-right", "foot-right"],
    ])
      for (const frame of [0, 3, 11, 20]) expect(wayIn(from, idOf(a), idOf(b), frame).angleTo(wayIn(to, a, b, frame))).toBeLessThan(NEAR);
    expect(fitClip(clip, rigOf(own), { limbs: "left" }).laidLimbs).toBe(false);
  });

  test("that looks the other way at rest goes the other way, as it sees it", () => {
    const other = standingFigure((bones) =>
      bones.map((bone) => ({ ...bone, place: [-bone.place[0], bone.place[1], -bone.place[2]] as const })),
    );
    const clip: Clip = {
      ...danceOf(own, 5),
      curves: {
        "pelvis.moveZ": curveFrom([
          [0, 0],
          [20, 2],
        ]),
        "upper-left.rotateX": curveFrom([
          [0, 0],
          [20, -60],
        ]),
      },
    };
    const { clip: made } = fitClip(clip, rigOf(other));
    const after = shotOf(other, made.curves, 20);
    const pelvis = other[0].id;
    expect(turnIn(after, pelvis, 20).place.z - turnIn(after, pelvis, 0).place.z).toBeCloseTo(-2, 9);
    const left = other.find(({ part }) => part === "fore-left")?.id as string;
    // It lifts the arm forward, which is −Z for it.
    expect(turnIn(after, left, 20).place.z - turnIn(after, pelvis, 20).place.z).toBeLessThan(-0.1);
  });
});

describe("levels that only one of two has", () => {
  const twisted = standingFigure((bones) => bones.flatMap((bone) => withTwist(bones, bone)));
  const idOf = (name: string) => twisted.find(({ part }) => part === name)?.id as string;

  test("in the action: what hangs on them turns with them, and it is said", () => {
    const clip = danceOf(twisted, 6, true);
    const fitted = fitClip(clip, rigOf(own), { limbs: "left" });
    expect(fitted.match.bridged.from).toEqual(["c108"]);
    expect(fitted.unmatched).toEqual([]);
    const [from, to] = [shotOf(twisted, clip.curves, 20), shotOf(own, fitted.clip.curves, 20)];
    for (const frame of [0, 9, 20])
      expect(turnIn(from, idOf("hand-left"), frame).turn.angleTo(turnIn(to, "hand-left", frame).turn)).toBeLessThan(NEAR);
  });

  test("in the rig: they rest, so that what hangs on them is where it was", async () => {
    const clip = danceOf(own, 7, true);
    const busy = shotOf(twisted, { "c108.rotateX": curveFrom([[0, 80]]) }, 20);
    const action = { card: { id: "a", name: "Dance", notes: "", tags: [], folder: "", savedAt: 0 }, clip };
    const { shot, report } = await run(layAction, busy, { action, at: 0, limbs: "left" });
    for (const frame of [0, 9, 20])
      expect(
        turnIn(shotOf(own, clip.curves, 20), "hand-left", frame).turn.angleTo(turnIn(shot, idOf("hand-left"), frame).turn),
      ).toBeLessThan(NEAR);
    expect(report.notes.join(" ")).toMatch(/only this rig has them: twist; they rest/);
  });
});

test("what has no place is listed by name, what two could be is asked, and a hand's word is taken", async () => {
  const other = standingFigure((bones) => bones.map((bone) => ({ ...bone, name: `bone ${bone.at}` })));
  const extra: Control = { ...own[4], id: "plume", name: "Plume", parent: "head", part: "" };
  const clip = danceOf([...own, extra], 8);
  const action = { card: { id: "a", name: "Dance", notes: "", tags: [], folder: "", savedAt: 0 }, clip };
  const { report } = await run(layAction, shotOf(other, {}, 20), { action, at: 0 });
  expect(report.warnings).toContain("3 of 81 curves have no place here: Plume.");
  const said = fitClip(clip, rigOf(other), { hand: { plume: "c9", "thumb-left": null } });
  expect(said.match.pairs.find(({ from }) => from === "plume")).toEqual({ from: "plume", to: "c9", by: "hand", sure: 1 });
  expect(said.unmatched.filter((key) => key.startsWith("thumb-left"))).toHaveLength(3);
});

/** The same places at rest, with the controls turned any way there. */
function restingTurned(controls: readonly Control[], seed: number): Control[] {
  const chance = new Chance(100 + seed);
  const worlds = new Map<string, { place: Vector3; turn: Quaternion }>();
  return controls.map((control) => {
    const above = control.parent === null ? undefined : worlds.get(control.parent);
    const flat = shotOf(controls, {}, 1);
    const place = turnIn(flat, control.id, 0).place;
    const turn = new Quaternion(...anyTurn(chance));
    worlds.set(control.id, { place, turn });
    const back = above ? above.turn.clone().invert() : new Quaternion();
    const rest = place
      .clone()
      .sub(above?.place ?? new Vector3())
      .applyQuaternion(back);
    const own = back.multiply(turn);
    return { ...control, rest: [rest.x, rest.y, rest.z] as const, restTurn: [own.x, own.y, own.z, own.w] as const };
  });
}

function withTwist(bones: readonly Bone[], bone: Bone): Bone[] {
  if (bone.name !== "hand left") return [bone];
  const fore = bones[bone.parent as number];
  const place = bone.place.map((x, k) => (x + fore.place[k]) / 2) as [number, number, number];
  return [
    { at: 108, name: "twist", parent: bone.parent, place },
    { ...bone, parent: 108 },
  ];
}

function stretchedArms(bones: readonly Bone[]): Bone[] {
  return bones.map((bone) => {
    const side = /^(?:fore|hand|thumb|finger) (left|right)$/.exec(bone.name)?.[1];
    if (!side) return bone;
    const [x, y, z] = (bones.find(({ name }) => name === `upper ${side}`) as Bone).place;
    const out = side === "left" ? 1 : -1;
    return { ...bone, place: [x + out * (y - bone.place[1]), y + out * (bone.place[0] - x), z + (bone.place[2] - z)] };
  });
}

test("three angles that are told anew follow one another from frame to frame, without a jump", () => {
  const other = restingTurned(own, 9);
  const clip: Clip = {
    ...danceOf(own, 9),
    curves: {
      "chest.rotateY": curveFrom([
        [0, 0],
        [20, 720],
      ]),
    },
  };
  const { clip: made } = fitClip(clip, rigOf(other), { limbs: "left" });
  for (const channel of rotateChannels) expect(made.curves[channelKey("chest", channel)].times.length).toBeGreaterThan(1);
});
