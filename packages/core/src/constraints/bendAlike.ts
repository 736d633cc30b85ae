import { anySquare, cross, dot, lengthOf, normalise, turnBetween, turnVector } from "../maths/vector.ts";

/** Room for limbs of up to so many bones. */
export const MOST_BONES = 8;

/** No joint is bent by more than this by itself (radians); what is left over is bent at all joints alike. */
const MOST_BEND = (165 * Math.PI) / 180;
/** Bent by less than this in all (radians) a limb counts as straight, and its joints bend about its hinge. */
const STRAIGHT = (3 * Math.PI) / 180;
/** How much (radians) each joint of a straight limb bends for one unit of its bend. */
const A_LITTLE = Math.PI / 180;
const STEPS = 60;

const bone = new Float64Array(3 * MOST_BONES);
const lengths = new Float64Array(MOST_BONES);
const axes = new Float64Array(3 * MOST_BONES);
const angles = new Float64Array(MOST_BONES);
/** How far each joint is turned against how it is now, about `axes` and about the hinge. */
const own = new Float64Array(MOST_BONES);
const even = new Float64Array(MOST_BONES);
const sum = new Float64Array(4);
const step = new Float64Array(4);
const at = new Float64Array(3);
const end = new Float64Array(3);
const back = new Float64Array(4);

/** A limb as it is: joints, its bones' number, the line from its top to its end (a unit vector), and the axis about which it bends. */
interface BentLimb {
  readonly joints: Float64Array;
  readonly bones: number;
  readonly along: Float64Array;
  readonly axis: Float64Array;
  /** The length of all its bones. */
  readonly total: number;
}

/**
 * Bend a limb of any number of bones until its end is so far from its top: every joint by the same share of what it is bent now,
 * so that a zigzag stays one; a straight one at all joints alike, about its axis. Into `out` go the places of its joints from its
 * top, its end on the line on which it is now. Answers how far the end comes. As far away as it is, nothing is changed.
 */
export function bendAlike(out: Float64Array, limb: BentLimb, wanted: number): number {
  const { bones, total } = limb;
  read(limb);
  let bend = 0;
  for (let n = 1; n < bones; n++) bend += Math.abs(angles[n]);
  const share = Math.min(1, bend / STRAIGHT);
  const straight = 1 - share * share * (3 - 2 * share);
  const scaled = (by: number) => {
    for (let n = 1; n < bones; n++) {
      own[n] = (by - 1) * angles[n];
      even[n] = (by - 1) * straight * A_LITTLE;
    }
    return place(out, limb);
  };
  let most = Number.POSITIVE_INFINITY;
  for (let n = 1; n < bones; n++) {
    const a = Math.abs(angles[n]) + straight * A_LITTLE;
    if (a > 0) most = Math.min(most, MOST_BEND / a);
  }
  most = Math.max(1, most);
  const now = scaled(1);
  if (Math.abs(now - wanted) <= 1e-12 * total) return aligned(out, limb);
  // Straighter for further away, where it comes no nearer than straight; else more and more bent.
  let [near, far] = [1, 0];
  if (wanted < now) {
    far = 1;
    near = 1;
    while (near < most && scaled(near) > wanted) {
      far = near;
      near = Math.min(most, near * 1.3 + 0.01);
    }
    if (scaled(near) > wanted) return foldedOn(out, limb, near, straight, wanted);
  } else if (scaled(0) < wanted) return aligned(out, limb);
  for (let n = 0; n < STEPS && Math.abs(near - far) > 1e-15; n++) {
    const middle = (near + far) / 2;
    if (scaled(middle) > wanted) far = middle;
    else near = middle;
  }
  scaled(near);
  return aligned(out, limb);
}

/** Beyond what its own bends can do: from there on all joints are bent alike as well. */
function foldedOn(out: Float64Array, limb: BentLimb, by: number, straight: number, wanted: number): number {
  const { bones } = limb;
  const more = (angle: number) => {
    for (let n = 1; n < bones; n++) {
      own[n] = (by - 1) * angles[n];
      even[n] = (by - 1) * straight * A_LITTLE + angle;
    }
    return place(out, limb);
  };
  let [low, high] = [0, 0];
  const limit = (2 * Math.PI) / bones;
  while (high < limit && more(high) > wanted) {
    low = high;
    high += limit / 24;
  }
  for (let n = 0; n < STEPS && high - low > 1e-15; n++) {
    const middle = (low + high) / 2;
    if (more(middle) > wanted) low = middle;
    else high = middle;
  }
  more(high);
  return aligned(out, limb);
}

/** Bones and bends of a limb as it is. */
function read({ joints, bones }: BentLimb): void {
  for (let n = 0; n < bones; n++) {
    for (let k = 0; k < 3; k++) bone[3 * n + k] = joints[3 * n + 3 + k] - joints[3 * n + k];
    lengths[n] = normalise(bone, 3 * n);
    // What has no length lies as the bone before it.
    if (lengths[n] === 0 && n > 0) bone.copyWithin(3 * n, 3 * n - 3, 3 * n);
    if (n === 0) continue;
    cross(axes, 3 * n, bone, 3 * n - 3, bone, 3 * n);
    angles[n] = Math.atan2(lengthOf(axes, 3 * n), dot(bone, 3 * n - 3, bone, 3 * n));
    if (normalise(axes, 3 * n) === 0) anySquare(axes, 3 * n, bone, 3 * n);
  }
}

/** Joints from the top on, bent by `own` and `even`; answers how far the end is. */
function place(out: Float64Array, { bones, axis }: BentLimb): number {
  sum.set([0, 0, 0, 1]);
  out.fill(0, 0, 3);
  for (let n = 0; n < bones; n++) {
    if (n > 0) {
      turnAbout(sum, axes, 3 * n, own[n]);
      turnAbout(sum, axis, 0, even[n]);
    }
    for (let k = 0; k < 3; k++) at[k] = bone[3 * n + k];
    turnVector(at, 0, sum, 0, at, 0);
    for (let k = 0; k < 3; k++) out[3 * n + 3 + k] = out[3 * n + k] + lengths[n] * at[k];
  }
  return lengthOf(out, 3 * bones);
}

/** q becomes q times the turn about an axis by an angle. */
function turnAbout(q: Float64Array, axis: Float64Array, o: number, angle: number): void {
  const [s, c] = [Math.sin(angle / 2), Math.cos(angle / 2)];
  step.set([axis[o] * s, axis[o + 1] * s, axis[o + 2] * s, c]);
  const [x, y, z, w] = q;
  const [a, b, d, e] = step;
  q[0] = w * a + x * e + y * d - z * b;
  q[1] = w * b - x * d + y * e + z * a;
  q[2] = w * d + x * b - y * a + z * e;
  q[3] = w * e - x * a - y * b - z * d;
}

/** Turned the shortest way so that the end lies on the line on which it was. */
function aligned(out: Float64Array, { bones, along }: BentLimb): number {
  for (let k = 0; k < 3; k++) end[k] = out[3 * bones + k];
  const reached = normalise(end, 0);
  if (reached === 0) return 0;
  turnBetween(back, 0, end, 0, along, 0, axes);
  for (let n = 1; n <= bones; n++) turnVector(out, 3 * n, back, 0, out, 3 * n);
  return reached;
}
