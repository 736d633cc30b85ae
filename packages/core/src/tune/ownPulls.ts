import { placeAt, layoutOf, moveAt, worldAt } from "../figure/rigLayout.ts";
import { pointOf } from "../figure/pointOf.ts";
import { invertAffine } from "../maths/matrix.ts";
import { DEG, turnedAxes } from "../maths/rotation.ts";
import type { Rig } from "../model/rig.ts";
import type { FigureMotion, FigurePoint } from "./figureMotion.ts";

/**
 * What pulls at the points of a posed figure mean for the moves and angles of its controls, in closed form: the force on
 * all that hangs on a control, and its turning moment about each axis the control turns about. For controls whose
 * matrices are their own channels' under the ones above.
 */
export interface OwnPulls {
  /** Gather from how something changes with the points' places at a frame (counted from the first), for a posed figure. */
  gather(worlds: Float64Array, points: readonly FigurePoint[], slope: FigureMotion, f: number): void;
  /** What one unit of each of a control's three moves and three angles (degrees) comes to, from its channel values. */
  meaning(out: Float64Array, worlds: Float64Array, values: Float64Array, control: number): void;
}

/** Numbers a control has while pulls are gathered: their sum, and the sum of pull k times place j for each pair of k and j. */
const GATHERED = 12;

export function makeOwnPulls(rig: Rig): OwnPulls {
  const { parents, restTurns } = layoutOf(rig);
  const axes = rig.controls.map(({ order }) => turnedAxes(order));
  const gathered = new Float64Array(parents.length * GATHERED);
  const point = new Float64Array(3);
  const inverse = new Float64Array(16);
  /** Sums of pull k times way j from the control: in the world, half-way, and in the frame of the control above. */
  const pulled = new Float64Array(9);
  const half = new Float64Array(9);
  const moment = new Float64Array(3);

  /** The force in the frame above into `out`, the turning moment there about the control into `moment`. */
  function inFrameAbove(out: Float64Array, worlds: Float64Array, control: number): void {
    const at = control * GATHERED;
    const place = placeAt(control);
    for (let k = 0; k < 3; k++)
      for (let j = 0; j < 3; j++) pulled[k * 3 + j] = gathered[at + 3 + k * 3 + j] - gathered[at + k] * worlds[place + j];
    const parent = parents[control];
    if (parent < 0) for (let k = 0; k < 3; k++) out[k] = gathered[at + k];
    else {
      const m = worldAt(parent);
      invertAffine(inverse, 0, worlds, m);
      for (let k = 0; k < 3; k++) {
        out[k] = 0;
        for (let r = 0; r < 3; r++) out[k] += worlds[m + k * 4 + r] * gathered[at + r];
        for (let j = 0; j < 3; j++) {
          half[k * 3 + j] = 0;
          for (let r = 0; r < 3; r++) half[k * 3 + j] += worlds[m + k * 4 + r] * pulled[r * 3 + j];
        }
      }
      for (let k = 0; k < 3; k++)
        for (let j = 0; j < 3; j++) {
          pulled[k * 3 + j] = 0;
          for (let r = 0; r < 3; r++) pulled[k * 3 + j] += half[k * 3 + r] * inverse[r * 4 + j];
        }
    }
    for (let k = 0; k < 3; k++) {
      const [next, last] = [(k + 1) % 3, (k + 2) % 3];
      moment[k] = pulled[last * 3 + next] - pulled[next * 3 + last];
    }
  }

  /** The moment as it is before the control's resting turn: by the turn the other way round. */
  function beforeRest(control: number): void {
    const q = control * 4;
    const w = restTurns[q + 3];
    if (w === 1) return;
    const [x, y, z] = [restTurns[q], restTurns[q + 1], restTurns[q + 2]];
    const [a, b, c] = [moment[0], moment[1], moment[2]];
    const [u, v, n] = [2 * (b * z - c * y), 2 * (c * x - a * z), 2 * (a * y - b * x)];
    moment[0] = a + w * u + (z * v - y * n);
    moment[1] = b + w * v + (x * n - z * u);
    moment[2] = c + w * n + (y * u - x * v);
  }

  return {
    gather(worlds, points, slope, f) {
      gathered.fill(0);
      for (let p = 0; p < points.length; p++) {
        const from = (f * points.length + p) * 3;
        const { control, at } = points[p];
        if (control < 0) continue;
        pointOf(point, worlds, control, at);
        for (let k = 0; k < 3; k++) {
          const pull = slope.places[from + k];
          if (pull === 0) continue;
          gathered[control * GATHERED + k] += pull;
          for (let j = 0; j < 3; j++) gathered[control * GATHERED + 3 + k * 3 + j] += pull * point[j];
        }
      }
      for (let control = parents.length - 1; control >= 0; control--) {
        const parent = parents[control];
        if (parent >= 0) for (let k = 0; k < GATHERED; k++) gathered[parent * GATHERED + k] += gathered[control * GATHERED + k];
      }
    },
    meaning(out, worlds, values, control) {
      inFrameAbove(out, worlds, control);
      beforeRest(control);
      const v = moveAt(control) + 3;
      const [i, j, k] = axes[control];
      const sense = j === (i + 1) % 3 ? 1 : -1;
      const [ci, si] = [Math.cos(values[v + i] * DEG), Math.sin(values[v + i] * DEG)];
      const [cj, sj] = [Math.cos(values[v + j] * DEG), sense * Math.sin(values[v + j] * DEG)];
      // The first axis stands still, the second is turned about it, the third about both.
      out[3 + i] = DEG * moment[i];
      out[3 + j] = DEG * (ci * moment[j] + sense * si * moment[k]);
      out[3 + k] = DEG * (sj * moment[i] + cj * (ci * moment[k] - sense * si * moment[j]));
      // Under a control that is flattened nothing is known of what it flattens.
      for (let n = 0; n < 6; n++) if (!Number.isFinite(out[n])) out[n] = 0;
    },
  };
}
