import { constantCurve } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { makeMirrorer, type PoseValues } from "../../src/figure/mirror.ts";
import { makePlane, type MirrorPlane, type Plane, reflect } from "../../src/figure/mirrorPlane.ts";
import { restWorlds } from "../../src/figure/restPlace.ts";
import { findSides } from "../../src/figure/sides.ts";
import { invertAffine, multiplyAffine } from "../../src/maths/matrix.ts";
import { rotationOrders } from "../../src/maths/rotation.ts";
import { type Control, channelKey, makeControl, type Rig, transformChannels } from "../../src/model/rig.ts";
import { emptyShot } from "../../src/model/shotFields.ts";
import { Chance } from "../help/chance.ts";

/*
 * What mirroring promises, on rigs made by chance: even at rest about any axis, at any place on it, partners' axes pointing
 * wherever they like, partners at the top, figures lying and upside down, scaled and mirrored parts. It is checked by what
 * a reflection is: a point carried along by a control goes where the reflected point carried by its partner is reflected to.
 */

type Quat = [number, number, number, number];
type Vector = [number, number, number];
const axes = ["x", "y", "z"] as const;

function anyTurn(chance: Chance): Quat {
  const q = [0, 1, 2, 3].map(() => chance.between(-1, 1));
  const length = Math.hypot(...q) || 1;
  return q.map((x) => x / length) as Quat;
}

/** A turn that puts axes on axes. */
function squareTurn(chance: Chance): Quat {
  const half = Math.SQRT1_2;
  const quarter: Quat[] = [
    [0, 0, 0, 1],
    [half, 0, 0, half],
    [0, half, 0, half],
    [0, 0, half, half],
    [0.5, 0.5, 0.5, 0.5],
    [0, 1, 0, 0],
  ];
  return chance.of(quarter);
}

const times = ([ax, ay, az, aw]: Quat, [bx, by, bz, bw]: Quat): Quat => [
  ax * bw + aw * bx + ay * bz - az * by,
  ay * bw + aw * by + az * bx - ax * bz,
  az * bw + aw * bz + ax * by - ay * bx,
  aw * bw - ax * bx - ay * by - az * bz,
];
const inverse = ([x, y, z, w]: Quat): Quat => [-x, -y, -z, w];
const rotated = (q: Quat, [x, y, z]: Vector): Vector => times(times(q, [x, y, z, 0]), inverse(q)).slice(0, 3) as Vector;

interface Made {
  readonly rig: Rig;
  readonly axis: 0 | 1 | 2;
  readonly at: number;
  readonly scales: boolean;
}

/** Every control rests somewhere in the world, turned somehow; partners rest at reflected places, turned by themselves. */
function makeRig(chance: Chance): Made {
  const axis = chance.below(3) as 0 | 1 | 2;
  const at = chance.next() < 0.5 ? 0 : chance.between(-5, 5);
  const scales = chance.next() < 0.5;
  const turn = () => (scales ? squareTurn(chance) : anyTurn(chance));
  const across = ([x, y, z]: Vector): Vector => [x, y, z].map((v, k) => (k === axis ? 2 * at - v : v)) as Vector;
  const rows: { id: string; parent: string | null; place: Vector; turn: Quat; partner: string }[] = [];
  const onMiddle = (): Vector => [0, 1, 2].map((k) => (k === axis ? at : chance.between(-2, 2))) as Vector;
  const beside = (): Vector => [0, 1, 2].map((k) => (k === axis ? at + chance.between(0.2, 2) : chance.between(-2, 2))) as Vector;
  rows.push({ id: "root", parent: null, place: chance.next() < 0.5 ? onMiddle() : beside(), turn: turn(), partner: "root" });
  const sided = new Set<string>();
  const count = 4 + chance.below(6);
  for (let n = 0; n < count; n++) {
    const above = chance.of(rows);
    const parent = n > 0 && chance.next() < 0.15 ? null : above.id;
    const isPair = (parent !== null && sided.has(parent)) || parent === null || chance.next() < 0.6;
    if (!isPair) {
      rows.push({ id: `c${n}`, parent, place: onMiddle(), turn: turn(), partner: `c${n}` });
      continue;
    }
    const place = beside();
    const other = parent === null ? null : (rows.find(({ id }) => id === parent)?.partner ?? null);
    rows.push({ id: `l${n}`, parent, place, turn: turn(), partner: `r${n}` });
    rows.push({ id: `r${n}`, parent: other, place: across(place), turn: turn(), partner: `l${n}` });
    sided.add(`l${n}`).add(`r${n}`);
  }
  const byId = new Map(rows.map((row) => [row.id, row]));
  const controls = rows.map(({ id, parent, place, turn: world, partner }): Control => {
    const above = parent === null ? null : byId.get(parent);
    const apart = place.map((v, k) => v - (above ? above.place[k] : 0)) as Vector;
    return makeControl(id, {
      parent,
      partner,
      rest: above ? rotated(inverse(above.turn), apart) : apart,
      restTurn: above ? times(inverse(above.turn), world) : world,
      order: chance.of(rotationOrders),
      channels: [...transformChannels, "curl"],
    });
  });
  return { rig: { id: "r", name: "r", figure: null, controls }, axis, at, scales };
}

function anyPose(chance: Chance, { rig, scales }: Made): PoseValues {
  const pose: PoseValues = {};
  for (const { id, channels } of rig.controls)
    for (const channel of channels) {
      const key = channelKey(id, channel);
      if (channel.startsWith("rotate")) pose[key] = chance.between(-180, 180);
      else if (channel.startsWith("move")) pose[key] = chance.next() < 0.5 ? 0 : chance.between(-1, 1);
      else if (channel === "curl") pose[key] = chance.between(0, 1);
      else if (scales) pose[key] = chance.next() < 0.3 ? -chance.between(0.5, 2) : chance.between(0.5, 2);
    }
  return pose;
}

function worldsOf(rig: Rig, pose: PoseValues): Float64Array {
  const base = Object.fromEntries(Object.entries(pose).map(([key, value]) => [key, constantCurve(value)]));
  const player = makePlayer(emptyShot({ id: "s", name: "s", rig, base }));
  player.pose(1);
  return player.worlds.slice();
}

function apply(m: Float64Array, o: number, [x, y, z]: Vector): Vector {
  return [0, 1, 2].map((k) => m[o + k] * x + m[o + 4 + k] * y + m[o + 8 + k] * z + m[o + 12 + k]) as Vector;
}

/** Where a point that rests in the world is carried to by a control. */
function carriedBy(rig: Rig, worlds: Float64Array, i: number, point: Vector): Vector {
  const toControl = new Float64Array(16);
  invertAffine(toControl, 0, restWorlds(rig), i * 16);
  multiplyAffine(toControl, 0, worlds, i * 16, toControl.slice(), 0);
  return apply(toControl, 0, point);
}

/** The largest distance of a carried point from where its reflection should be. */
function worstOff({ rig, axis, at }: Made, pose: PoseValues, image: PoseValues, planes: readonly Plane[], chance: Chance): number {
  const [before, after] = [worldsOf(rig, pose), worldsOf(rig, image)];
  let worst = 0;
  rig.controls.forEach(({ partner }, i) => {
    const c = rig.controls.findIndex(({ id }) => id === partner);
    const point: Vector = [chance.between(-2, 2), chance.between(-2, 2), chance.between(-2, 2)];
    const across = point.map((v, k) => (k === axis ? 2 * at - v : v)) as Vector;
    const want = reflect(planes[c], carriedBy(rig, before, c, point));
    const got = carriedBy(rig, after, i, across);
    worst = Math.max(worst, Math.hypot(...got.map((v, k) => v - want[k])));
  });
  return worst;
}

/** How large a posed figure is. */
const spread = (worlds: Float64Array) => 1 + Math.max(...worlds.map(Math.abs));

describe.each([
  ["its own middle", (): MirrorPlane => "own middle"],
  [
    "a plane of the scene",
    (chance: Chance): MirrorPlane =>
      makePlane([chance.between(-3, 3), chance.between(-3, 3), 1], [chance.between(-1, 1), chance.between(-1, 1), chance.between(0.1, 1)]),
  ],
])("mirrored in %s", (_name, planeBy) => {
  test("every point of every control lands on its reflection, and twice is the original", () => {
    for (let seed = 1; seed <= 80; seed++) {
      const chance = new Chance(seed);
      const made = makeRig(chance);
      const plane = planeBy(chance);
      const mirrorer = makeMirrorer({ ...made.rig, sides: { axis: axes[made.axis], at: made.at } }, { plane });
      const pose = anyPose(chance, made);
      const image = mirrorer.pose(pose, pose);
      const size = spread(worldsOf(made.rig, pose));
      expect([seed, worstOff(made, pose, image, mirrorer.planes(pose), chance) / size < 1e-9]).toEqual([seed, true]);
      const back = worldsOf(made.rig, mirrorer.pose(image, pose));
      worldsOf(made.rig, pose).forEach((value, k) => {
        if (!(Math.abs(back[k] - value) / size < 1e-9)) throw new Error(`seed ${seed}: number ${k} is ${back[k]}, not ${value}`);
      });
      for (const { id, partner } of made.rig.controls) expect(image[`${id}.curl`]).toBe(pose[`${partner}.curl`]);
    }
  });
});

test("in its own middle a figure keeps its place and its heading, however it stands", () => {
  for (let seed = 1; seed <= 100; seed++) {
    const chance = new Chance(seed);
    const made = makeRig(chance);
    const mirrorer = makeMirrorer({ ...made.rig, sides: { axis: axes[made.axis], at: made.at } });
    const pose = anyPose(chance, made);
    const image = mirrorer.pose(pose, pose);
    const [was, is] = [mirrorer.planes(pose)[0], mirrorer.planes(image)[0]];
    const along = was.normal.reduce((sum, v, k) => sum + v * is.normal[k], 0);
    expect(Math.abs(along)).toBeCloseTo(1, 9);
    for (let k = 0; k < 3; k++) expect(is.origin[k]).toBeCloseTo(was.origin[k], 9);
    expect(was.normal[1]).toBe(0);
  }
});

test("the side axis and the middle are found from the rest pose", () => {
  for (let seed = 1; seed <= 150; seed++) {
    const { rig, axis, at } = makeRig(new Chance(seed));
    if (!rig.controls.some(({ id, partner }) => partner !== id)) continue;
    const found = findSides(rig);
    expect([seed, found.axis]).toEqual([seed, axes[axis]]);
    // Near 0 it is taken for 0.
    expect([seed, Math.abs(found.at - at) < 0.1]).toEqual([seed, true]);
  }
});

test("a plane without a direction is refused", () => {
  expect(() => makePlane([0, 0, 0], [0, 0, 0])).toThrow(/no direction/);
  expect(() => makePlane([0, 0, 0], [Number.NaN, 0, 0])).toThrow(/no direction/);
  expect(() => makePlane([0, Number.NaN, 0], [1, 0, 0])).toThrow(/no direction/);
});
