import { placeAt } from "../../figure/rigLayout.ts";
import type { Player } from "../../figure/player.ts";

/**
 * Where a limb must reach to for its end to be where it is, as the player stands: further out where the softness (a share of its
 * length) draws it back. The inverse of what `bendLimb` does; full stretch itself would be infinitely far.
 */
export function beyondSoftness(player: Player, limb: readonly string[], softness: number): number[] {
  const joints = limb.map((id) => {
    const at = placeAt(player.controlIndex.get(id) as number);
    return [player.worlds[at], player.worlds[at + 1], player.worlds[at + 2]];
  });
  const lengthOf = (a: readonly number[], b: readonly number[]) => Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
  const total = joints.slice(1).reduce((sum, joint, n) => sum + lengthOf(joints[n], joint), 0);
  const [top, end] = [joints[0], joints[joints.length - 1]];
  const soft = Math.min(1, Math.max(0, softness)) * total;
  const reached = lengthOf(top, end);
  if (soft === 0 || reached <= total - soft || reached === 0) return end;
  const wanted = total - soft - soft * Math.log(Math.max(1e-9, (total - reached) / soft));
  return end.map((value, k) => top[k] + ((value - top[k]) * wanted) / reached);
}
