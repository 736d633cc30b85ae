import { layoutOf, worldAt } from "../figure/rigLayout.ts";
import { invertAffine, multiplyAffine } from "../maths/matrix.ts";
import type { Rig } from "../model/rig.ts";
import type { FigureMotion, FigurePoint } from "./figureMotion.ts";

/**
 * What pulls at the points of a posed figure means for each control's matrix under the one above: gathered from the
 * points up the hierarchy in one walk, as forces are in a chain (the derivative of the matrices in reverse).
 */
export interface Pulls {
  /** Gather from how something changes with the points' places at a frame (counted from the first), for a posed figure. */
  gather(worlds: Float64Array, points: readonly FigurePoint[], slope: FigureMotion, f: number): void;
  /** What a change of a control's matrix under the one above comes to; columns of sixteen, the bottom row does not count. */
  meaning(control: number, change: Float64Array): number;
  /** A control's matrix under the one above, for a posed figure. */
  localOf(out: Float64Array, o: number, worlds: Float64Array, control: number): void;
}

export function makePulls(rig: Rig): Pulls {
  const { parents } = layoutOf(rig);
  const count = rig.controls.length;
  const inverse = new Float64Array(16);
  const locals = new Float64Array(count * 16);
  /** By control: how something changes with its matrix, as three rows of four in the world. */
  const pulls = new Float64Array(count * 12);
  let posed = new Float64Array(0);

  function localOf(out: Float64Array, o: number, worlds: Float64Array, control: number): void {
    const parent = parents[control];
    if (parent < 0) for (let k = 0; k < 16; k++) out[o + k] = worlds[worldAt(control) + k];
    else {
      invertAffine(inverse, 0, worlds, worldAt(parent));
      multiplyAffine(out, o, inverse, 0, worlds, worldAt(control));
    }
  }

  /** A point at q of a control's frame stands at local · q in the frame above. */
  function handUp(control: number, parent: number): void {
    const m = worldAt(control);
    for (let k = 0; k < 3; k++) {
      const row = control * 12 + k * 4;
      const above = parent * 12 + k * 4;
      for (let j = 0; j < 3; j++) {
        let sum = pulls[row + 3] * locals[m + 12 + j];
        for (let i = 0; i < 3; i++) sum += pulls[row + i] * locals[m + 4 * i + j];
        pulls[above + j] += sum;
      }
      pulls[above + 3] += pulls[row + 3];
    }
  }

  return {
    localOf,
    gather(worlds, points, slope, f) {
      posed = worlds as Float64Array<ArrayBuffer>;
      pulls.fill(0);
      for (let p = 0; p < points.length; p++) {
        const { control, at } = points[p];
        for (let k = 0; k < 3; k++) {
          const pull = slope.places[(f * points.length + p) * 3 + k];
          if (pull === 0) continue;
          const row = control * 12 + k * 4;
          for (let j = 0; j < 3; j++) pulls[row + j] += pull * at[j];
          pulls[row + 3] += pull;
        }
      }
      for (let control = count - 1; control >= 0; control--) {
        const parent = parents[control];
        if (parent < 0) continue;
        localOf(locals, worldAt(control), worlds, control);
        handUp(control, parent);
      }
    },
    meaning(control, change) {
      const parent = parents[control];
      let sum = 0;
      for (let column = 0; column < 4; column++)
        for (let row = 0; row < 3; row++) {
          const by = change[column * 4 + row];
          if (by === 0) continue;
          if (parent < 0) sum += by * pulls[control * 12 + row * 4 + column];
          else for (let k = 0; k < 3; k++) sum += by * posed[worldAt(parent) + row * 4 + k] * pulls[control * 12 + k * 4 + column];
        }
      return sum;
    },
  };
}
