import { DEG, eulerFromQuat, nearestEuler, quatFromEuler, quatMultiply } from "../maths/rotation.ts";
import { type ChannelKey, type Control, channelKey, type Rig } from "../model/rig.ts";
import { FACING, leaderOf, type MirrorPlane, planeOf, reflect, type UprightPlane } from "./mirrorPlane.ts";
import { layoutOf, moveAt, turnAt } from "./rigLayout.ts";

type Quat = Float64Array;
const quat = (): Quat => Float64Array.of(0, 0, 0, 1);

function times(a: Quat, b: Quat): Quat {
  const out = quat();
  quatMultiply(out, 0, a, 0, b, 0);
  return out;
}

function inverse(q: Quat): Quat {
  return Float64Array.of(-q[0], -q[1], -q[2], q[3]);
}

/** Reflected in the plane x = 0: a turn about x stays, those about y and z change sign. */
function reflected(q: Quat): Quat {
  return Float64Array.of(q[0], -q[1], -q[2], q[3]);
}

function rotate(q: Quat, v: ArrayLike<number>): [number, number, number] {
  const p = times(times(q, Float64Array.of(v[0], v[1], v[2], 0)), inverse(q));
  return [p[0], p[1], p[2]];
}

function yaw(angle: number): Quat {
  return Float64Array.of(0, Math.sin(angle / 2), 0, Math.cos(angle / 2));
}

/** Channel values of one pose, by channel key. */
export type PoseValues = Record<ChannelKey, number>;

/** Mirrors poses of one rig in one plane. */
export interface Mirrorer {
  /** The mirror image of a pose; Euler angles are the solution nearest to those of `near`. */
  pose(pose: PoseValues, near: PoseValues): PoseValues;
  /**
   * The same over columns of frames: by channel key, a value a frame, all of one length; channels that are not there
   * are at rest. Angles stay near those of the frame before. Answers every channel that has an image.
   */
  columns(columns: Readonly<Record<ChannelKey, Float64Array>>): Record<ChannelKey, Float64Array>;
}

/** What mirroring needs to know of a control, worked out once. */
interface Slot {
  readonly control: Control;
  readonly parent: number;
  readonly restTurn: Quat;
  /** Its turn at rest in the world. */
  readonly rest: Quat;
  /** The control whose image it takes; −1 when it is never mirrored. */
  readonly source: number;
  /** Places in a pose of channels that only change sides: its own, and those of its source. */
  readonly swaps: readonly (readonly [own: number, source: number])[];
}

function slotsOf(rig: Rig): Slot[] {
  const { channelIndex, controlIndex, parents } = layoutOf(rig);
  const slots: Slot[] = [];
  rig.controls.forEach((control, i) => {
    const parent = parents[i];
    const restTurn = Float64Array.from(control.restTurn);
    const partner = control.partner === null ? undefined : rig.controls[controlIndex.get(control.partner) ?? -1];
    const others = partner ? control.channels.filter((channel) => !/^(move|rotate)[XYZ]$/.test(channel)) : [];
    slots.push({
      control,
      parent,
      restTurn,
      rest: parent < 0 ? restTurn : times(slots[parent].rest, restTurn),
      source: partner ? (controlIndex.get(partner.id) as number) : -1,
      swaps: others.map((channel) => [
        channelIndex.get(channelKey(control.id, channel)) as number,
        channelIndex.get(channelKey((partner as Control).id, channel)) ?? -1,
      ]),
    });
  });
  return slots;
}

/**
 * Makes ready to mirror poses, left and right exchanged. In the figure's own middle each central top control is mirrored
 * in the upright plane through its own middle, so that it keeps its place and its heading, and what hangs on it goes
 * along; top controls that have a partner (hands and feet that stand in the world) are mirrored in the plane of the
 * figure's middle. In a plane of the scene everything is. The rule per control comes from the rest pose, which is taken
 * to be even about the plane x = 0: the turn from rest, seen in the world, is reflected, and the partner is turned from
 * its own rest by the reflection. Rigs whose left and right axes differ need no special case. Controls without a partner
 * keep their values; scale and own attributes change sides.
 */
export function makeMirrorer(rig: Rig, plane: MirrorPlane = "own middle"): Mirrorer {
  return new PreparedMirrorer(rig, plane);
}

type Put = (channel: number, value: number) => void;

class PreparedMirrorer implements Mirrorer {
  private readonly slots: readonly Slot[];
  private readonly keys: readonly ChannelKey[];
  private readonly rest: Float64Array;
  private readonly plane: MirrorPlane;
  /** The control whose middle is the figure's; −1 when there is none. */
  private readonly leading: number;
  /** Turns in the world: of the pose, and of its image. */
  private readonly world: Quat[] = [];
  private readonly mirrored: Quat[] = [];

  constructor(rig: Rig, plane: MirrorPlane) {
    const { channelIndex, controlIndex, rest } = layoutOf(rig);
    this.slots = slotsOf(rig);
    this.keys = [...channelIndex.keys()];
    this.rest = rest;
    this.plane = plane;
    const leader = leaderOf(rig);
    this.leading = leader ? (controlIndex.get(leader.id) as number) : -1;
  }

  pose(given: PoseValues, near: PoseValues): PoseValues {
    const result = { ...given };
    this.mirror(this.valuesOf(given), this.valuesOf(near), (i, value) => {
      result[this.keys[i]] = value;
    });
    return result;
  }

  columns(given: Readonly<Record<ChannelKey, Float64Array>>): Record<ChannelKey, Float64Array> {
    const { keys } = this;
    const count = Math.max(0, ...Object.values(given).map((column) => column.length));
    const present = keys.map((key) => given[key] as Float64Array | undefined);
    const result: Record<ChannelKey, Float64Array> = {};
    let near: Float64Array | null = null;
    for (let n = 0; n < count; n++) {
      const values = this.rest.map((value, i) => present[i]?.[n] ?? value);
      const image: Float64Array = values.slice();
      this.mirror(values, near ?? values, (i, value) => {
        result[keys[i]] ??= new Float64Array(count);
        result[keys[i]][n] = value;
        image[i] = value;
      });
      near = image;
    }
    return result;
  }

  private valuesOf(given: PoseValues): Float64Array {
    return this.rest.map((value, i) => given[this.keys[i]] ?? value);
  }

  private turnOf(values: Float64Array, i: number): Quat {
    const turn = quat();
    const at = turnAt(i);
    quatFromEuler(turn, 0, values[at] * DEG, values[at + 1] * DEG, values[at + 2] * DEG, this.slots[i].control.order);
    return turn;
  }

  private placeOf(values: Float64Array, i: number): [number, number, number] {
    const [x, y, z] = this.slots[i].control.rest;
    const [dx, dy, dz] = moveOf(values, i);
    return [x + dx, y + dy, z + dz];
  }

  /** The plane each control is mirrored in; fills `world` with the turns of the pose. */
  private planesOf(values: Float64Array): UprightPlane[] {
    const { slots, world, plane } = this;
    const planes: UprightPlane[] = [];
    slots.forEach(({ parent, restTurn, rest: resting }, i) => {
      const local = times(restTurn, this.turnOf(values, i));
      world[i] = parent < 0 ? local : times(world[parent], local);
      if (plane !== "own middle") planes[i] = plane;
      else if (parent < 0) {
        const turned = times(world[i], inverse(resting));
        planes[i] = planeOf(this.placeOf(values, i), rotate(turned, [1, 0, 0]), rotate(turned, [0, 0, 1]));
      }
    });
    const middle = planes[this.leading] ?? FACING;
    slots.forEach(({ control, parent }, i) => {
      if (parent >= 0) planes[i] = planes[parent];
      else if (control.partner !== null && control.partner !== control.id) planes[i] = middle;
    });
    return planes;
  }

  /** Hands the values of the image to `put`, channel by channel. */
  private mirror(values: Float64Array, near: Float64Array, put: Put): void {
    const { slots, world, mirrored, rest } = this;
    const planes = this.planesOf(values);
    slots.forEach((slot, i) => {
      const above = slot.parent < 0 ? quat() : mirrored[slot.parent];
      if (slot.source < 0) {
        mirrored[i] = times(above, times(slot.restTurn, this.turnOf(values, i)));
        return;
      }
      const from = planes[slot.source];
      const h = yaw(from.heading);
      // The turn from rest as seen from the heading; the rest pose is symmetric, so only this is reflected.
      const turned = times(inverse(h), times(world[slot.source], inverse(slots[slot.source].rest)));
      mirrored[i] = times(times(h, reflected(turned)), slot.rest);
      this.putTurn(i, times(inverse(slot.restTurn), times(inverse(above), mirrored[i])), near, put);
      const moves = this.moves(i, from, h, above, values);
      for (let k = 0; k < 3; k++) put(moveAt(i) + k, moves[k]);
      for (const [own, source] of slot.swaps) put(own, source < 0 ? rest[own] : values[source]);
    });
  }

  private putTurn(i: number, turn: Quat, near: Float64Array, put: Put): void {
    const { order } = this.slots[i].control;
    const euler = [0, 0, 0];
    eulerFromQuat(euler, 0, turn, 0, order);
    const at = turnAt(i);
    const found = nearestEuler(
      euler.map((angle) => angle / DEG),
      [near[at], near[at + 1], near[at + 2]],
      order,
    );
    for (let axis = 0; axis < 3; axis++) put(at + axis, found[axis]);
  }

  private moves(i: number, from: UprightPlane, h: Quat, above: Quat, values: Float64Array): ArrayLike<number> {
    const { source, parent, control } = this.slots[i];
    const sourceParent = this.slots[source].parent;
    if (parent >= 0) {
      const seen = rotate(inverse(h), rotate(sourceParent < 0 ? quat() : this.world[sourceParent], moveOf(values, source)));
      return rotate(inverse(above), rotate(h, [-seen[0], seen[1], seen[2]]));
    }
    // In its own plane a control stays where it is, to the last bit.
    if (source === i && this.plane === "own middle") return moveOf(values, i);
    const place = sourceParent < 0 ? reflect(from, this.placeOf(values, source)) : this.placeOf(values, i);
    return place.map((to, k) => to - control.rest[k]);
  }
}

function moveOf(values: Float64Array, i: number): Float64Array {
  return values.subarray(moveAt(i), moveAt(i) + 3);
}
