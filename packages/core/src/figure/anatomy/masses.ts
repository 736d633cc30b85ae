import { invertAffine } from "../../maths/matrix.ts";
import { isScenery, type Rig } from "../../model/rig.ts";
import { pointOf } from "../pointOf.ts";
import { worldAt } from "../rigLayout.ts";
import { type Body, bodyOf } from "./bodyOf.ts";
import type { Limb } from "./limb.ts";
import { headSegment, limbSegments, TAIL_MASS, trunkSegments } from "./segmentMasses.ts";
import { isOwn, type Skeleton, skeletonOf } from "./skeleton.ts";

/** A weight that moves with a control. */
interface Mass {
  /** Index of the control. */
  readonly control: number;
  /** Share of the whole figure. */
  readonly share: number;
  /** Its place in the control's own frame. */
  readonly at: readonly number[];
}

export interface Masses {
  readonly parts: readonly Mass[];
  /** The figure has the limbs of a body that walks on two legs, whose masses are known; else each bone weighs as it is long. */
  readonly isKnown: boolean;
}

const known = new WeakMap<Rig, Masses>();

/** What the parts of a figure weigh, worked out once for each rig. */
export function massesOf(rig: Rig): Masses {
  let masses = known.get(rig);
  if (!masses) {
    const skeleton = skeletonOf(rig);
    const body = bodyOf(skeleton);
    const parts = body ? ofBody(skeleton, body) : ofBones(skeleton);
    const sum = parts.reduce((all, { share }) => all + share, 0);
    masses = { parts: parts.map((part) => ({ ...part, share: part.share / sum })), isKnown: body !== null };
    known.set(rig, masses);
  }
  return masses;
}

const at = new Float64Array(3);

/** The centre of some masses for matrices of the world (sixteen numbers a control), into `out`; answers their share of the whole. */
export function centreOf(parts: readonly Mass[], worlds: Float64Array, out: Float64Array | number[]): number {
  let [x, y, z, sum] = [0, 0, 0, 0];
  for (const { control, share, at: own } of parts) {
    pointOf(at, worlds, control, own);
    x += share * at[0];
    y += share * at[1];
    z += share * at[2];
    sum += share;
  }
  out[0] = x / sum;
  out[1] = y / sum;
  out[2] = z / sum;
  return sum;
}

/** A mass at a share of the way between two places of the rest pose, moving with a control. */
function between(skeleton: Skeleton, control: number, from: ArrayLike<number>, to: ArrayLike<number>, share: number, centre: number): Mass {
  const inverse = new Float64Array(16);
  invertAffine(inverse, 0, skeleton.worlds, worldAt(control));
  const own = new Float64Array(3);
  pointOf(
    own,
    inverse,
    0,
    [0, 1, 2].map((k) => from[k] + (to[k] - from[k]) * centre),
  );
  return { control, share, at: [...own] };
}

function ofBody(skeleton: Skeleton, body: Body): Mass[] {
  const place = (i: number) => skeleton.place(i);
  const { trunk, chest, head, legs, arms, tail } = body;
  const hips = trunk[0];
  const parts: Mass[] = [];
  const shoulders = arms ? middle([arms.left, arms.right].map(({ chain, root }) => place(chain[root]))) : place(trunk[chest]);
  // Each third moves with the last control of the trunk that is not above it.
  const rise = shoulders[1] - place(hips)[1];
  for (const { mass, centre } of trunkSegments) {
    const height = place(hips)[1] + rise * centre;
    const under = trunk.slice(0, chest + 1).findLast((i) => place(i)[1] <= height + 1e-9) ?? hips;
    parts.push(between(skeleton, under, place(hips), shoulders, mass, centre));
  }
  const skull = trunk[head];
  parts.push(between(skeleton, skull, place(skull), topOf(skeleton, skull), headSegment.mass, headSegment.centre));
  for (const { chain, root, bend, end } of Object.values(legs)) {
    parts.push(...bones(skeleton, { chain, root, bend, end }, limbSegments.thigh, limbSegments.shank, limbSegments.foot));
  }
  for (const arm of arms ? Object.values(arms) : [])
    parts.push(...bones(skeleton, arm, limbSegments.upperArm, limbSegments.forearm, limbSegments.hand));
  parts.push(...weighed(skeleton, tail, TAIL_MASS));
  return parts;
}

interface Segment {
  readonly mass: number;
  readonly centre: number;
}

/** The two bones of a limb and what hangs on them. */
function bones(skeleton: Skeleton, { chain, root, bend, end }: Limb, upper: Segment, lower: Segment, last: Segment): Mass[] {
  const place = (n: number) => skeleton.place(chain[n]);
  const tip = farthest(skeleton, chain[end]);
  return [
    between(skeleton, chain[root], place(root), place(bend), upper.mass, upper.centre),
    between(skeleton, chain[bend], place(bend), place(end), lower.mass, lower.centre),
    between(skeleton, chain[end], place(end), tip, last.mass, last.centre),
  ];
}

/** A chain weighs as much at each place as the others, by length. */
function weighed(skeleton: Skeleton, chain: readonly number[], mass: number): Mass[] {
  const bone = chain.map((i, n) => {
    const from = skeleton.place(i);
    const to = n + 1 < chain.length ? skeleton.place(chain[n + 1]) : farthest(skeleton, i);
    return { i, from, to, length: Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]) };
  });
  const whole = bone.reduce((sum, { length }) => sum + length, 0);
  return bone.map(({ i, from, to, length }) =>
    between(skeleton, i, from, to, whole > 0 ? (mass * length) / whole : mass / bone.length, 0.5),
  );
}

/** A figure without such limbs: each bone weighs as it is long. A control nothing hangs on has a little weight of its own. */
function ofBones(skeleton: Skeleton): Mass[] {
  const { controls, children } = skeleton;
  const counts = controls.map((control) => isOwn(control) && control.role === "figure");
  const wanted = counts.some(Boolean) ? counts : controls.map((control) => !isScenery(control));
  const all = wanted.some(Boolean) ? wanted : controls.map(() => true);
  const parts: Mass[] = [];
  controls.forEach((control, i) => {
    if (!all[i]) return;
    const ends = children[i].filter((child) => all[child]).map((child) => skeleton.place(child));
    if (ends.length === 0 && control.tip) ends.push(tipOf(skeleton, i));
    for (const end of ends) {
      const from = skeleton.place(i);
      const length = Math.hypot(end[0] - from[0], end[1] - from[1], end[2] - from[2]);
      if (length > 0) parts.push(between(skeleton, i, from, end, length, 0.5));
    }
  });
  if (parts.length > 0) return parts;
  const first = Math.max(0, all.indexOf(true));
  return [{ control: first, share: 1, at: [0, 0, 0] }];
}

function tipOf(skeleton: Skeleton, i: number): Float64Array {
  const out = new Float64Array(3);
  pointOf(out, skeleton.worlds, i, skeleton.controls[i].tip ?? [0, 0, 0]);
  return out;
}

/** The farthest rest place of what hangs on a control, its tip where nothing does. */
function farthest(skeleton: Skeleton, from: number): Float64Array {
  let best = skeleton.controls[from].tip ? tipOf(skeleton, from) : skeleton.place(from);
  let most = -1;
  const start = skeleton.place(from);
  const visit = (i: number) => {
    for (const child of skeleton.children[i]) {
      const place = skeleton.controls[child].tip ? tipOf(skeleton, child) : skeleton.place(child);
      const apart = Math.hypot(place[0] - start[0], place[1] - start[1], place[2] - start[2]);
      if (apart > most) [best, most] = [place, apart];
      visit(child);
    }
  };
  visit(from);
  return best;
}

/** Over a head: as high as the highest thing on it. */
function topOf(skeleton: Skeleton, head: number): readonly number[] {
  const place = skeleton.place(head);
  let top = skeleton.controls[head].tip ? tipOf(skeleton, head)[1] : place[1];
  const visit = (i: number) => {
    for (const child of skeleton.children[i]) {
      top = Math.max(top, skeleton.place(child)[1]);
      visit(child);
    }
  };
  visit(head);
  return [place[0], top, place[2]];
}

function middle(places: readonly ArrayLike<number>[]): number[] {
  return [0, 1, 2].map((k) => places.reduce((sum, place) => sum + place[k], 0) / places.length);
}
