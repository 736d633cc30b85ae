import { pointOf } from "../figure/pointOf.ts";
import { z } from "zod";
import { worldAt } from "../figure/rigLayout.ts";
import { stretchOf, turnFromAffine, writeTurned } from "../maths/decompose.ts";
import { DEG, quatFromMatrix, quatMultiply } from "../maths/rotation.ts";
import { turnPartWay } from "../maths/turnPartWay.ts";
import { anySquare, cross, flatten, normalise, turnBetween, turnVector } from "../maths/vector.ts";
import { controlById, type Rig } from "../model/rig.ts";
import type { ConstraintKind, Standing } from "./constraintKind.ts";

export const aimAxes = ["x", "y", "z", "-x", "-y", "-z"] as const;
type Axis = (typeof aimAxes)[number];

const fields = z.object({
  control: z.string(),
  /** What it aims at; null: a point of the world. */
  target: z.string().nullable(),
  /** The point, in the target's own frame or in the world. */
  point: z.array(z.number()).length(3),
  /** The axis of the control that points there. */
  axis: z.enum(aimAxes),
  /** How it rolls about that axis: as it is carried, or with another axis toward the world's Y or a control. */
  up: z.enum(["carried", "world", "control"]),
  upAxis: z.enum(aimAxes),
  upOf: z.string().nullable(),
  /** A turn between the aimed frame and where its channels are told: a unit quaternion, x y z w. */
  offset: z.array(z.number()).length(4),
});
export type AimSettings = z.infer<typeof fields>;

const settings = fields.refine(({ up, axis, upAxis }) => up === "carried" || axis[axis.length - 1] !== upAxis[upAxis.length - 1], {
  path: ["upAxis"],
  message: "the axis that is kept up must be square to the one that points",
});

const direction = new Float64Array(3);
const axis = new Float64Array(3);
const upward = new Float64Array(3);
const upAxis = new Float64Array(3);
const local = new Float64Array(16);
const qWorld = new Float64Array(4);
const qLocal = new Float64Array(4);
const qOwn = new Float64Array(4);
const qFrame = new Float64Array(4);
const qGoal = new Float64Array(4);
const roll = new Float64Array(4);
const stretch = new Float64Array(9);
const basis = new Float64Array(18);

/**
 * A control turns so that one of its axes points at another control or a point: its frame turns, and its own turn goes on
 * top. Its roll comes along the shortest way from how it is carried, or from an axis that is kept toward a direction.
 */
export const aim: ConstraintKind<AimSettings, Float64Array> = {
  id: "aim",
  title: "Aim",
  help: "A control points at another one or at a place; its own turn goes on top.",
  settings,
  channels: () => [
    { name: "strength", otherwise: 1 },
    { name: "roll", otherwise: 0 },
  ],
  reads: ({ target, up, upOf }) => [target, up === "control" ? upOf : null].filter((id) => id !== null),
  writes: ({ control }) => [control],
  keepsOwn: () => true,
  scaled: (given, factor) => ({ ...given, point: given.point.map((at) => at * factor) }),
  prepare: ({ control }, rig: Rig) => Float64Array.from(controlById(rig, control)?.restTurn ?? [0, 0, 0, 1]),
  apply(standing, slot) {
    const { settings: s, prepared: restTurn, writes, values } = slot;
    const strength = Math.min(1, Math.max(0, values[0]));
    if (strength === 0) return;
    const { worlds } = standing;
    const o = worldAt(writes[0]);
    turnFromAffine(qWorld, 0, worlds, o);
    if (!aimedFrame(standing, s, restTurn, slot.reads, writes[0])) return;
    if (values[1] !== 0) {
      axisOf(axis, s.axis);
      for (let k = 0; k < 3; k++) roll[k] = axis[k] * Math.sin((values[1] * DEG) / 2);
      roll[3] = Math.cos((values[1] * DEG) / 2);
      quatMultiply(qFrame, 0, qFrame, 0, roll, 0);
    }
    for (let k = 0; k < 4; k++) roll[k] = s.offset[k];
    quatMultiply(qGoal, 0, qFrame, 0, roll, 0);
    quatMultiply(qGoal, 0, qGoal, 0, qOwn, 0);
    stretchOf(stretch, qWorld, 0, worlds, o);
    turnPartWay(qGoal, 0, qWorld, 0, qGoal, 0, strength);
    writeTurned(worlds, o, qGoal, 0, stretch);
  },
};

/** Into `qFrame` the aimed frame, into `qOwn` the control's own turn; false where there is no direction. `qWorld` is its turn now. */
function aimedFrame({ worlds, own }: Standing, s: AimSettings, restTurn: Float64Array, reads: readonly number[], control: number): boolean {
  const o = worldAt(control);
  pointOf(direction, worlds, s.target === null ? -1 : reads[0], s.point);
  for (let k = 0; k < 3; k++) direction[k] -= worlds[o + 12 + k];
  if (normalise(direction, 0) === 0) return false;
  // How it is carried with no turn of its own: what its turn is with its own taken out.
  own(local, 0, control);
  turnFromAffine(qLocal, 0, local, 0);
  conjugate(qOwn, restTurn);
  quatMultiply(qOwn, 0, qOwn, 0, qLocal, 0);
  conjugate(qFrame, qOwn);
  quatMultiply(qFrame, 0, qWorld, 0, qFrame, 0);
  axisOf(axis, s.axis);
  if (s.up === "carried") {
    turnVector(axis, 0, qFrame, 0, axis, 0);
    turnBetween(qGoal, 0, axis, 0, direction, 0);
    quatMultiply(qFrame, 0, qGoal, 0, qFrame, 0);
    return true;
  }
  if (s.up === "control" && s.upOf !== null) {
    const at = worldAt(reads[reads.length - 1]);
    for (let k = 0; k < 3; k++) upward[k] = worlds[at + 12 + k] - worlds[o + 12 + k];
  } else upward.set([0, 1, 0]);
  axisOf(upAxis, s.upAxis);
  frameTo(qFrame, axis, upAxis, direction, upward);
  return true;
}

/** The turn that takes `a` to `to` and `up` as near to `upTo` as may be; directions that say nothing are made up. */
function frameTo(out: Float64Array, a: Float64Array, up: Float64Array, to: Float64Array, upTo: Float64Array): void {
  squareBasis(basis, 0, a, up);
  squareBasis(basis, 9, to, upTo);
  // B₂·B₁ᵀ, both with their vectors as columns.
  for (let c = 0; c < 3; c++)
    for (let r = 0; r < 3; r++) local[c * 4 + r] = basis[9 + r] * basis[c] + basis[12 + r] * basis[3 + c] + basis[15 + r] * basis[6 + c];
  quatFromMatrix(out, 0, local, 0, 4);
}

const second = new Float64Array(3);

function squareBasis(out: Float64Array, o: number, first: Float64Array, wanted: Float64Array): void {
  second.set(wanted);
  flatten(second, 0, first, 0);
  if (normalise(second, 0) < 1e-9) anySquare(second, 0, first, 0);
  for (let k = 0; k < 3; k++) {
    out[o + k] = first[k];
    out[o + 3 + k] = second[k];
  }
  cross(out, o + 6, first, 0, second, 0);
}

function axisOf(out: Float64Array, name: Axis): void {
  out.fill(0);
  out["xyz".indexOf(name[name.length - 1])] = name.length > 1 ? -1 : 1;
}

function conjugate(out: Float64Array, q: ArrayLike<number>): void {
  for (let k = 0; k < 3; k++) out[k] = -q[k];
  out[3] = q[3];
}
