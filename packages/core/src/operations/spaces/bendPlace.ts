import type { Player } from "../../figure/player.ts";
import { placeAt, worldAt } from "../../figure/rigLayout.ts";
import { anySquare, cross, dot, flatten, lengthOf, normalise } from "../../maths/vector.ts";

/**
 * Where, for a posed figure, a control stands toward which a limb bends just as it does: on the side of its elbow or knee,
 * as far from the line between its ends as the limb is long. A limb that is straight is told by its hinge.
 */
export function bendPlace(player: Player, limb: readonly string[], hinge: readonly number[]): [number, number, number] {
  const { worlds } = player;
  const at = limb.map((id) => player.controlIndex.get(id) as number);
  const place = (i: number) => worlds.slice(placeAt(i), placeAt(i) + 3);
  const [top, end] = [place(at[0]), place(at[at.length - 1])];
  const along = end.map((value, k) => value - top[k]);
  const line = normalise(along, 0);
  let total = 0;
  for (let n = 1; n < at.length; n++) {
    const [a, b] = [place(at[n - 1]), place(at[n])];
    total += Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
  }
  // The joint that is furthest off the line.
  let side = new Float64Array(3);
  for (const i of at.slice(1, -1)) {
    const off = place(i).map((value, k) => value - top[k]);
    flatten(off, 0, along, 0);
    if (lengthOf(off, 0) > lengthOf(side, 0)) side = off;
  }
  const m = worldAt(at[0]);
  const byHinge = Float64Array.from(
    [0, 1, 2],
    (k) => worlds[m + k] * hinge[0] + worlds[m + 4 + k] * hinge[1] + worlds[m + 8 + k] * hinge[2],
  );
  cross(byHinge, 0, along, 0, byHinge, 0);
  if (normalise(byHinge, 0) === 0) anySquare(byHinge, 0, along, 0);
  const isStraight = lengthOf(side, 0) < 1e-4 * total;
  if (isStraight) side = byHinge;
  else if (dot(side, 0, byHinge, 0) < 0) for (let k = 0; k < 3; k++) side[k] = -side[k];
  normalise(side, 0);
  return [0, 1, 2].map((k) => top[k] + (along[k] * line) / 2 + side[k] * total) as [number, number, number];
}
