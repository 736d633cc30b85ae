import { layoutOf } from "../figure/rigLayout.ts";
import { type Control, controlById, type Rig } from "../model/rig.ts";
import type { Player } from "../figure/player.ts";
import { invertAffine } from "../maths/matrix.ts";
import { quatMultiply } from "../maths/rotation.ts";
import { cross, dot, lengthOf, normalise } from "../maths/vector.ts";
import { MOST_BONES } from "./bendAlike.ts";

/** Bones shorter than this share of the longest of a limb are none: what twists a forearm stands on its elbow. */
const NO_BONE = 1e-3;

/**
 * The limb that an end closes, from the top down with the end last: so many bones above it, controls that stand on the
 * same joint counted in. Fewer than two bones: none.
 */
export function limbOf(rig: Rig, end: string, bones = 2): string[] {
  const chain: Control[] = [];
  let longest = 0;
  let count = 0;
  for (let at = controlById(rig, end); at; at = at.parent === null ? undefined : controlById(rig, at.parent)) {
    chain.unshift(at);
    const length = Math.hypot(...at.rest);
    if (count === bones || chain.length > MOST_BONES) break;
    longest = Math.max(longest, length);
    if (length > NO_BONE * longest) count++;
    if (at.parent === null) return [];
  }
  return count === bones ? chain.map(({ id }) => id) : [];
}

/**
 * The axis about which a limb bends, in the frame of its first control: the mean over frames of how it is bent, those at
 * which it is bent more counting more. Where it is straight throughout, square to it, however it lies.
 */
export function hingeOf(player: Player, limb: readonly string[], frames: Iterable<number>): number[] {
  const at = limb.map((id) => layoutOf(player.shot.rig).controlIndex.get(id) as number);
  const sum = new Float64Array(3);
  const [a, b, n] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  const back = new Float64Array(16);
  const place = (i: number, k: number) => player.worlds[at[i] * 16 + 12 + k];
  const middle = Math.ceil((limb.length - 1) / 2);
  for (const frame of frames) {
    player.pose(frame);
    for (let k = 0; k < 3; k++) {
      a[k] = place(middle, k) - place(0, k);
      b[k] = place(limb.length - 1, k) - place(middle, k);
    }
    if (normalise(a, 0) === 0 || normalise(b, 0) === 0) continue;
    cross(n, 0, a, 0, b, 0);
    const size = lengthOf(n, 0);
    invertAffine(back, 0, player.worlds, at[0] * 16);
    const [x, y, z] = n;
    for (let k = 0; k < 3; k++) n[k] = back[k] * x + back[4 + k] * y + back[8 + k] * z;
    if (normalise(n, 0) === 0) continue;
    for (let k = 0; k < 3; k++) n[k] *= size;
    const sign = dot(sum, 0, n, 0) < 0 ? 0.25 : 1;
    for (let k = 0; k < 3; k++) sum[k] += sign * n[k];
  }
  if (normalise(sum, 0) > 0) return [...sum];
  // Straight in every frame: some axis square to the first bone.
  const first = controlById(player.shot.rig, limb[1])?.rest ?? [0, 1, 0];
  const least = [0, 1, 2].reduce((m, k) => (Math.abs(first[k]) < Math.abs(first[m]) ? k : m), 0);
  const axis = [0, 0, 0];
  axis[least] = 1;
  const out = new Float64Array(3);
  cross(out, 0, [...first], 0, axis, 0);
  return normalise(out, 0) > 0 ? [...out] : axis;
}

/** A turn in the frame of another: a⁻¹·b, unit quaternions. */
export function turnIn(a: ArrayLike<number>, b: Float64Array): number[] {
  const out = new Float64Array([-a[0], -a[1], -a[2], a[3]]);
  quatMultiply(out, 0, out, 0, b, 0);
  return [...out];
}
