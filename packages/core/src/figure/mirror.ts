import { invertAffine } from "../maths/matrix.ts";
import { DEG, eulerFromQuat, matrixFromQuat, nearestEuler, quatMultiply } from "../maths/rotation.ts";
import { type ChannelKey, type Rig, transformChannels } from "../model/rig.ts";
import { FACING, leaderOf, type MirrorPlane, type Plane, planeOf, reflect, reflectWay } from "./mirrorPlane.ts";
import { normalise, turnBetween } from "../maths/vector.ts";
import { type MirrorLayout, mirrorLayout } from "./mirrorSlots.ts";
import { layoutOf, moveAt, placeAt, turnAt, worldAt } from "./rigLayout.ts";
import { standControl, turnControl } from "./standing.ts";

/** Channel values of one pose, by channel key. */
export type PoseValues = Record<ChannelKey, number>;

export interface MirrorOptions {
  /** The figure's own middle when left out. */
  readonly plane?: MirrorPlane;
  /** Ids of controls that keep their values though they have a partner. */
  readonly leftOut?: readonly string[];
  /**
   * What the image of a limb keeps: the turns of its partner from rest, or, where both rest otherwise, where its joints are: each
   * then points at the reflection of the next one.
   */
  readonly lands?: "turns" | "place";
  /** Ids of the controls whose images are wanted; all when left out. */
  readonly only?: readonly string[];
}

/** Mirrors poses of one rig in one plane. */
export interface Mirrorer {
  /** The mirror image of a pose; Euler angles are the solution nearest to those of `near`. */
  pose(pose: PoseValues, near: PoseValues): PoseValues;
  /** The same of channel values laid out as `layoutOf` says; written into `into`, where there is one. */
  values(values: Float64Array, near: Float64Array, into?: Float64Array): Float64Array;
  /**
   * The same over columns of frames: by channel key, a value a frame, all of one length; channels that are not there
   * are at rest. Angles stay near those of the frame before. Answers every channel that has an image.
   */
  columns(columns: Readonly<Record<ChannelKey, Float64Array>>): Record<ChannelKey, Float64Array>;
  /** What becomes of a control's move and rotate channels where that is a matter of signs in every pose; null elsewhere. */
  signs(control: string): Readonly<Record<string, 1 | -1>> | null;
  /** By control: the plane in which it is mirrored in a pose. */
  planes(pose: PoseValues): readonly Plane[];
  /** By control, four numbers: the turn in the world that its mirror image should have. */
  turns(pose: PoseValues): Float64Array;
}

/**
 * Makes ready to mirror poses, left and right exchanged. In the figure's own middle each central top control is mirrored
 * in the upright plane through its own middle, so that it keeps its place and its heading, and what hangs on it goes
 * along; top controls that have a partner (hands and feet that stand in the world) are mirrored in the plane of the
 * figure's middle. In a plane of the scene everything is.
 *
 * The rule per control comes from the rest pose, which is taken to be even about a plane (see `sidesOf`). With M the
 * reflection in the mirror plane and M₀ that of the rest pose, a control whose partner has turned by T from its rest
 * turns by M·T·M₀ from its own: a product of two reflections and a turn, so a turn again. Rigs whose left and right axes
 * differ need no special case. Controls without a partner and those left out keep their values; attributes change
 * sides, and so do scales, each from the axis across.
 */
export function makeMirrorer(rig: Rig, { plane = "own middle", leftOut = [], lands = "turns", only }: MirrorOptions = {}): Mirrorer {
  return new PreparedMirrorer(rig, plane, new Set(leftOut), lands, only);
}

/** Below this share of a scene unit the middle of a figure is where its top control is. */
const OFF_MIDDLE = 1e-9;

class PreparedMirrorer implements Mirrorer {
  private readonly rig: Rig;
  private readonly layout: MirrorLayout;
  private readonly keys: readonly ChannelKey[];
  private readonly rest: Float64Array;
  private readonly plane: MirrorPlane;
  /** The control whose middle is the figure's; −1 when there is none. */
  private readonly leading: number;
  /** Channels that have an image. */
  private readonly written: readonly number[];
  /** Turns in the world, of the pose and of its image, and how far the pose's have turned from rest. */
  private readonly turned: Float64Array;
  private readonly fromRest: Float64Array;
  private readonly imaged: Float64Array;
  /** Matrices in the world, of the pose and of its image. */
  private readonly worlds: Float64Array;
  private readonly images: Float64Array;

  /** The controls that are worked out, those above first. */
  private readonly order: readonly number[];

  /** By control: the one below it that is to land on the reflection of its partner; −1 where there is none. */
  private readonly aims: readonly number[] | null;

  constructor(rig: Rig, plane: MirrorPlane, leftOut: ReadonlySet<string>, lands: "turns" | "place", only?: readonly string[]) {
    const { channelIndex, controlIndex, rest } = layoutOf(rig);
    this.rig = rig;
    this.layout = mirrorLayout(rig, leftOut);
    this.keys = [...channelIndex.keys()];
    this.rest = rest;
    this.plane = plane;
    const leader = leaderOf(rig);
    this.leading = leader ? (controlIndex.get(leader.id) as number) : -1;
    this.written = this.layout.slots.flatMap(({ source, isCopied, copies }, i) =>
      source < 0 ? [] : [...(isCopied ? [] : [0, 1, 2, 3, 4, 5].map((k) => moveAt(i) + k)), ...copies.map(({ own }) => own)],
    );
    this.order = only ? this.neededFor(only.map((id) => controlIndex.get(id) ?? -1)) : rig.controls.map((_, i) => i);
    this.aims = lands === "place" ? aimsOf(this.layout) : null;
    const count = rig.controls.length;
    this.turned = new Float64Array(count * 4);
    this.fromRest = new Float64Array(count * 4);
    this.imaged = new Float64Array(count * 4);
    this.worlds = new Float64Array(count * 16);
    this.images = new Float64Array(count * 16);
  }

  /** Controls with those they hang on and those they take their images from, in the rig's order. */
  private neededFor(wanted: readonly number[]): number[] {
    const needed = new Set<number>();
    const left = [...wanted, this.leading];
    for (let i = left.pop(); i !== undefined; i = left.pop()) {
      if (i < 0 || needed.has(i)) continue;
      needed.add(i);
      left.push(this.layout.slots[i].parent, this.layout.slots[i].source);
    }
    return [...needed].sort((a, b) => a - b);
  }

  pose(given: PoseValues, near: PoseValues): PoseValues {
    const image = this.values(this.valuesOf(given), this.valuesOf(near));
    const result = { ...given };
    for (const i of this.written) result[this.keys[i]] = image[i];
    return result;
  }

  columns(given: Readonly<Record<ChannelKey, Float64Array>>): Record<ChannelKey, Float64Array> {
    const { keys } = this;
    const count = Math.max(0, ...Object.values(given).map((column) => column.length));
    const present = keys.map((key) => given[key] as Float64Array | undefined);
    const result = Object.fromEntries(this.written.map((i) => [keys[i], new Float64Array(count)]));
    let near: Float64Array | null = null;
    for (let n = 0; n < count; n++) {
      const values = this.rest.map((value, i) => present[i]?.[n] ?? value);
      near = this.values(values, near ?? values);
      for (const i of this.written) result[keys[i]][n] = near[i];
    }
    return count > 0 ? result : {};
  }

  signs(control: string): Readonly<Record<string, 1 | -1>> | null {
    const signs = this.layout.slots[layoutOf(this.rig).controlIndex.get(control) ?? -1]?.signs;
    return signs ? Object.fromEntries(signs.map((sign, k) => [transformChannels[k], sign])) : null;
  }

  planes(pose: PoseValues): Plane[] {
    return this.stand(this.valuesOf(pose));
  }

  turns(pose: PoseValues): Float64Array {
    const planes = this.planes(pose);
    const { slots } = this.layout;
    const out = this.turned.slice();
    slots.forEach(({ source }, i) => {
      if (source >= 0) this.turnTo(out, i, source, planes[source]);
    });
    return out;
  }

  private valuesOf(given: PoseValues): Float64Array {
    return this.rest.map((value, i) => given[this.keys[i]] ?? value);
  }

  /** Take up a pose: turns and matrices in the world. Answers the plane each control is mirrored in. */
  private stand(values: Float64Array): Plane[] {
    const { rig, layout, turned, fromRest, worlds, plane, order } = this;
    const planes: Plane[] = [];
    for (const i of order) {
      const { parent } = layout.slots[i];
      turnControl(rig, turned, i, values);
      standControl(rig, worlds, i, values);
      quatMultiply(fromRest, 4 * i, turned, 4 * i, layout.fromRestTurns, 4 * i);
      if (plane !== "own middle") planes[i] = plane;
      else if (parent < 0) planes[i] = this.ownMiddle(i);
    }
    const middle = planes[this.leading] ?? FACING;
    for (const i of order) {
      const { control, parent } = layout.slots[i];
      if (parent >= 0) planes[i] = planes[parent];
      else if (control.partner !== null && control.partner !== control.id) planes[i] = middle;
    }
    return planes;
  }

  /** The upright plane through the middle of the figure as a top control carries it. */
  private ownMiddle(i: number): Plane {
    const { axis } = this.layout;
    matrixFromQuat(matrix, 0, 3, this.fromRest, 4 * i);
    // Any way across the side will do for the front; of a figure that looks along Z it is that.
    const across = 3 * ((axis + 2) % 3);
    for (let k = 0; k < 3; k++) {
      side[k] = matrix[3 * axis + k];
      front[k] = matrix[across + k];
    }
    return planeOf(this.middleOf(i, 1), side, front);
  }

  /** Where the figure's middle is beside a top control, `times` as far. */
  private middleOf(i: number, times: number): [number, number, number] {
    const { axis, toMiddle, restTurns } = this.layout;
    const { worlds } = this;
    const at = placeAt(i);
    if (Math.abs(toMiddle[i]) < OFF_MIDDLE) return [worlds[at], worlds[at + 1], worlds[at + 2]];
    // The side axis as the control sees it at rest, carried along by what it is now, scales and all.
    matrixFromQuat(matrix, 0, 3, restTurns, 4 * i);
    const way = carried(worlds, worldAt(i), [matrix[axis], matrix[3 + axis], matrix[6 + axis]]);
    return [0, 1, 2].map((k) => worlds[at + k] + toMiddle[i] * times * way[k]) as [number, number, number];
  }

  values(values: Float64Array, near: Float64Array, image: Float64Array = new Float64Array(values.length)): Float64Array {
    const { layout, imaged, images } = this;
    const planes = this.stand(values);
    image.set(values);
    for (const i of this.order) {
      const slot = layout.slots[i];
      for (const { own, source, sign } of slot.copies) image[own] = sign * (source < 0 ? this.rest[own] : values[source]);
      if (slot.source >= 0 && !slot.isCopied) {
        this.turnTo(imaged, i, slot.source, planes[slot.source]);
        this.putTurn(image, i, values, near);
        this.putMoves(image, i, planes[slot.source], values);
        if (this.aims && this.aims[i] >= 0) this.pointAt(image, i, this.aims[i], planes[slot.source], near);
      } else turnControl(this.rig, imaged, i, image);
      standControl(this.rig, images, i, image);
    }
    return image;
  }

  /** The turn in the world of a control's image: M·T·M₀ from its rest. */
  private turnTo(out: Float64Array, i: number, source: number, { normal }: Plane): void {
    const { axis, restTurns } = this.layout;
    // M₀·T·M₀: what turns about the side axis stays, the rest goes the other way round.
    for (let k = 0; k < 3; k++) quat[k] = (k === axis ? 1 : -1) * this.fromRest[4 * source + k];
    quat[3] = this.fromRest[4 * source + 3];
    // M·M₀ as the product of the two normals.
    unit.fill(0);
    unit[axis] = 1;
    for (let k = 0; k < 3; k++) between[k] = normal[k];
    between[3] = 0;
    quatMultiply(between, 0, between, 0, unit, 0);
    quatMultiply(quat, 0, between, 0, quat, 0);
    quatMultiply(out, 4 * i, quat, 0, restTurns, 4 * i);
  }

  private putTurn(image: Float64Array, i: number, values: Float64Array, near: Float64Array): void {
    const { control, source, signs } = this.layout.slots[i];
    const at = turnAt(i);
    // By place what it hangs on may be turned otherwise than its partner's.
    if (signs && !this.aims) for (let k = 0; k < 3; k++) euler[k] = signs[3 + k] * values[turnAt(source) + k];
    else this.eulerOf(i);
    for (let k = 0; k < 3; k++) angles[k] = near[at + k];
    const nearest = nearestEuler(euler, angles, control.order);
    for (let k = 0; k < 3; k++) image[at + k] = nearest[k];
  }

  /** Turn a control's image the shortest way, so that the one below it lies toward the reflection of its partner's place. */
  private pointAt(image: Float64Array, i: number, below: number, plane: Plane, near: Float64Array): void {
    const { imaged, images, layout } = this;
    standControl(this.rig, images, i, image);
    const [x, y, z] = layout.slots[below].control.rest;
    const goal = reflect(plane, this.worlds.subarray(placeAt(layout.slots[below].source)));
    const at = placeAt(i);
    const now = Float64Array.from(carried(images, worldAt(i), [x, y, z]));
    const wanted = Float64Array.from([0, 1, 2], (k) => goal[k] - images[at + k]);
    if (normalise(now, 0) === 0 || normalise(wanted, 0) === 0) return;
    turnBetween(between, 0, now, 0, wanted, 0);
    quatMultiply(imaged, 4 * i, between, 0, imaged, 4 * i);
    this.eulerOf(i);
    const own = turnAt(i);
    for (let k = 0; k < 3; k++) angles[k] = near[own + k];
    const nearest = nearestEuler(euler, angles, layout.slots[i].control.order);
    for (let k = 0; k < 3; k++) image[own + k] = nearest[k];
  }

  /** The angles (degrees, into `euler`) with which a control is turned as its image is. */
  private eulerOf(i: number): void {
    const { control, parent } = this.layout.slots[i];
    const { imaged } = this;
    if (parent < 0) for (let k = 0; k < 4; k++) quat[k] = imaged[4 * i + k];
    else {
      for (let k = 0; k < 3; k++) between[k] = -imaged[4 * parent + k];
      between[3] = imaged[4 * parent + 3];
      quatMultiply(quat, 0, between, 0, imaged, 4 * i);
    }
    quatMultiply(quat, 0, this.layout.fromOwnRest, 4 * i, quat, 0);
    eulerFromQuat(euler, 0, quat, 0, control.order);
    for (let k = 0; k < 3; k++) euler[k] /= DEG;
  }

  private putMoves(image: Float64Array, i: number, plane: Plane, values: Float64Array): void {
    const { slots, toMiddle } = this.layout;
    const { source, parent, control, signs } = slots[i];
    const from = slots[source].parent;
    const own = moveAt(i);
    if (signs && !this.aims) {
      for (let k = 0; k < 3; k++) image[own + k] = signs[k] * values[moveAt(source) + k];
      return;
    }
    if (parent < 0) {
      // In its own plane a control stays where it is, to the last bit.
      if (source === i && this.plane === "own middle" && Math.abs(toMiddle[i]) < OFF_MIDDLE) return;
      const place = reflect(plane, source === i ? this.middleOf(i, 2) : this.worlds.subarray(placeAt(source)));
      for (let k = 0; k < 3; k++) image[own + k] = place[k] - control.rest[k];
      return;
    }
    const move = values.subarray(moveAt(source), moveAt(source) + 3);
    const seen = from < 0 ? move : carried(this.worlds, worldAt(from), move);
    invertAffine(local, 0, this.images, worldAt(parent));
    const put = carried(local, 0, reflectWay(plane, seen));
    // Under a scale of 0 nothing can be put anywhere.
    for (let k = 0; k < 3; k++) image[own + k] = Number.isFinite(put[k]) ? put[k] : move[k];
  }
}

/** By control that has a partner: the longest of those below it whose partner hangs on its partner. */
function aimsOf({ slots }: MirrorLayout): number[] {
  const length = (i: number) => Math.hypot(...slots[i].control.rest);
  return slots.map(({ source, isCopied }, i) => {
    if (source < 0 || source === i || isCopied) return -1;
    let best = -1;
    slots.forEach(({ parent, source: other }, n) => {
      if (parent === i && other >= 0 && slots[other].parent === source && length(n) > (best < 0 ? 1e-9 : length(best))) best = n;
    });
    return best;
  });
}

/** A direction carried by a matrix. */
function carried(m: Float64Array, o: number, [x, y, z]: Float64Array | readonly number[]): number[] {
  return [0, 1, 2].map((k) => m[o + k] * x + m[o + 4 + k] * y + m[o + 8 + k] * z);
}

const local = new Float64Array(16);
const matrix = new Float64Array(9);
const quat = Float64Array.of(0, 0, 0, 1);
const between = new Float64Array(4);
const unit = new Float64Array(4);
const euler = new Float64Array(3);
const angles = new Float64Array(3);
const side = new Float64Array(3);
const front = new Float64Array(3);
