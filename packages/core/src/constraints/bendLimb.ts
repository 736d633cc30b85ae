import { quatFromMatrix } from "../maths/rotation.ts";
import { bendAlike, MOST_BONES } from "./bendAlike.ts";
import { anySquare, cross, dot, flatten, lengthOf, normalise, turnBetween, turnVector } from "../maths/vector.ts";

/** What a limb is to do; all in the world. Points and directions are three numbers each. */
export interface LimbGoal {
  /** Where its joints are now, from the top to the end. */
  readonly joints: Float64Array;
  /** How many bones it has: one less than joints. */
  readonly bones: number;
  /** Where its end is to be. */
  readonly goal: Float64Array;
  /** The axis about which it bends, for when it is too straight to tell. */
  readonly hinge: Float64Array;
  /** A place toward which it bends; null: as its joints are now. */
  readonly toward: Float64Array | null;
  /** Share of its length over which it comes to full stretch softly. */
  readonly softness: number;
  /** Radians by which the bend is turned about the line to the goal. */
  readonly twist: number;
  /** Bones grow where they are too short. */
  readonly stretches: boolean;
}

/** How bent a limb must be (as the sine) for its own bend to count wholly rather than its hinge. */
const BENT = Math.sin(Math.PI / 180);

const along = new Float64Array(3);
const alongNew = new Float64Array(3);
const side = new Float64Array(3);
const sideNew = new Float64Array(3);
const byHinge = new Float64Array(3);
const normal = new Float64Array(3);
const normalNew = new Float64Array(3);
const bone = new Float64Array(3);
const boneNew = new Float64Array(3);
const turn = new Float64Array(4);
const basis = new Float64Array(18);
const matrix = new Float64Array(9);
const lengths = new Float64Array(MOST_BONES);
/** Places of the joints from the top: along the line to the end, to the side, and square to both; three numbers a joint. */
const bent = new Float64Array(3 * (MOST_BONES + 1));
const axis = new Float64Array(3);

/**
 * Bend a limb so that its end comes to a goal: by the law of cosines where it has two bones, each joint by the same share of
 * its own bend where it has more. Into `points` go the joints' new places, into `turns` the turn in the world of each bone (x y z w)
 * from how it is now. Lengths are kept unless it stretches; beyond its reach, or within the softness of it, the end stays
 * short of the goal. Where nothing needs to change nothing does.
 */
export function bendLimb(points: Float64Array, turns: Float64Array, limb: LimbGoal): void {
  const { joints, bones, goal, toward, twist } = limb;
  const end = 3 * bones;
  let total = 0;
  for (let n = 0; n < bones; n++) {
    for (let k = 0; k < 3; k++) bone[k] = joints[3 * n + 3 + k] - joints[3 * n + k];
    lengths[n] = lengthOf(bone, 0);
    total += lengths[n];
  }
  for (let k = 0; k < 3; k++) {
    along[k] = joints[end + k] - joints[k];
    alongNew[k] = goal[k] - joints[k];
  }
  const wanted = normalise(alongNew, 0);
  const now = normalise(along, 0);
  if (now === 0) along.set(wanted === 0 ? [0, 1, 0] : alongNew);
  if (wanted === 0) alongNew.set(along);
  sideOf(limb, total);
  // The side to which it bends afterwards: toward a place, or where the shortest turn takes it.
  if (toward !== null) {
    for (let k = 0; k < 3; k++) sideNew[k] = toward[k] - joints[k];
    flatten(sideNew, 0, alongNew, 0);
  }
  if (toward === null || normalise(sideNew, 0) === 0) {
    turnBetween(turn, 0, along, 0, alongNew, 0, side);
    turnVector(sideNew, 0, turn, 0, side, 0);
  }
  cross(normal, 0, along, 0, side, 0);
  cross(normalNew, 0, alongNew, 0, sideNew, 0);
  if (twist !== 0) {
    const [c, s] = [Math.cos(twist), Math.sin(twist)];
    for (let k = 0; k < 3; k++) {
      const kept = sideNew[k];
      sideNew[k] = c * kept + s * normalNew[k];
      normalNew[k] = c * normalNew[k] - s * kept;
    }
  }
  const distance = softened(wanted, total, limb);
  const reached = bones === 2 ? bendTwo(distance) : bendMany(limb, distance, total);
  const grow = limb.stretches && wanted > reached && reached > 0 ? wanted / reached : 1;
  for (let n = 0; n <= bones; n++)
    for (let k = 0; k < 3; k++)
      points[3 * n + k] = joints[k] + grow * (bent[3 * n] * alongNew[k] + bent[3 * n + 1] * sideNew[k] + bent[3 * n + 2] * normalNew[k]);
  for (let n = 0; n < bones; n++) {
    for (let k = 0; k < 3; k++) {
      bone[k] = joints[3 * n + 3 + k] - joints[3 * n + k];
      boneNew[k] = points[3 * n + 3 + k] - points[3 * n + k];
    }
    if (normalise(bone, 0) === 0 || normalise(boneNew, 0) === 0) turns.set([0, 0, 0, 1], 4 * n);
    else turnOfBone(turns, 4 * n);
  }
}

/** Into `side` the unit vector, square to the line from top to end, toward which the limb is bent. */
function sideOf({ joints, bones, hinge }: LimbGoal, total: number): void {
  // The joint that is furthest off the line says where it is bent to.
  let off = 0;
  side.fill(0);
  for (let n = 1; n < bones; n++) {
    for (let k = 0; k < 3; k++) bone[k] = joints[3 * n + k] - joints[k];
    flatten(bone, 0, along, 0);
    const far = lengthOf(bone, 0);
    if (far > off) {
      off = far;
      side.set(bone);
    }
  }
  cross(byHinge, 0, along, 0, hinge, 0);
  const hinged = normalise(byHinge, 0) > 1e-6;
  if (off > 0) for (let k = 0; k < 3; k++) side[k] /= off;
  if (!hinged) {
    if (off === 0) anySquare(side, 0, along, 0);
    return;
  }
  const share = Math.min(1, off / (BENT * total * 0.25));
  const smooth = share * share * (3 - 2 * share);
  // Bent the wrong way, as a knee pressed through is, it bends the right way.
  const sign = dot(side, 0, byHinge, 0) < 0 ? -1 : 1;
  for (let k = 0; k < 3; k++) side[k] = smooth * sign * side[k] + (1 - smooth) * byHinge[k];
  flatten(side, 0, along, 0);
  normalise(side, 0);
}

/** The distance from top to end for a wanted one: near full stretch it comes closer and closer to the length, and never there. */
function softened(wanted: number, total: number, { softness }: LimbGoal): number {
  const soft = Math.min(1, Math.max(0, softness)) * total;
  const from = total - soft;
  if (soft === 0 || wanted <= from) return Math.min(wanted, total);
  return total - soft * Math.exp((from - wanted) / soft);
}

/** Two bones in the plane of line and side, their end on the line; answers how far it comes. */
function bendTwo(wanted: number): number {
  const [a, b] = [lengths[0], lengths[1]];
  const d = Math.max(Math.abs(a - b), Math.min(a + b, wanted));
  const x = d > 0 ? (a * a - b * b + d * d) / (2 * d) : 0;
  const y = d > 0 ? Math.sqrt(Math.max(0, a * a - x * x)) : a;
  bent.set([0, 0, 0, x, y, 0, d, 0, 0]);
  return d;
}

/** More bones than two, told by the line, the side and what is square to both as they are now. */
function bendMany({ joints, bones }: LimbGoal, wanted: number, total: number): number {
  for (let k = 0; k < 3; k++) axis[k] = -normal[k];
  const reached = bendAlike(bent, { joints, bones, along, axis, total }, wanted);
  for (let n = 1; n <= bones; n++) {
    const [x, y, z] = [dot(bent, 3 * n, along, 0), dot(bent, 3 * n, side, 0), dot(bent, 3 * n, normal, 0)];
    bent[3 * n] = x;
    bent[3 * n + 1] = y;
    bent[3 * n + 2] = z;
  }
  return reached;
}

/** The turn that takes a bone with the plane it bends in from how they are to how they will be. */
function turnOfBone(out: Float64Array, o: number): void {
  squared(0, bone, normal);
  squared(9, boneNew, normalNew);
  for (let c = 0; c < 3; c++)
    for (let r = 0; r < 3; r++) matrix[c * 3 + r] = basis[9 + r] * basis[c] + basis[12 + r] * basis[3 + c] + basis[15 + r] * basis[6 + c];
  quatFromMatrix(out, o, matrix, 0, 3);
  const by = 1 / Math.hypot(out[o], out[o + 1], out[o + 2], out[o + 3]);
  for (let k = 0; k < 4; k++) out[o + k] *= by;
}

function squared(o: number, first: Float64Array, wanted: Float64Array): void {
  for (let k = 0; k < 3; k++) {
    basis[o + k] = first[k];
    basis[o + 3 + k] = wanted[k];
  }
  flatten(basis, o + 3, first, 0);
  if (normalise(basis, o + 3) === 0) anySquare(basis, o + 3, first, 0);
  cross(basis, o + 6, basis, o, basis, o + 3);
}
