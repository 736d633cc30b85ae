import { worldAt } from "./rigLayout.ts";

/** A point of a control's frame (below 0: of the world), in the world. */
export function pointOf(out: Float64Array | number[], worlds: Float64Array, control: number, point: ArrayLike<number>): void {
  if (control < 0) for (let k = 0; k < 3; k++) out[k] = point[k];
  else {
    const m = worldAt(control);
    for (let k = 0; k < 3; k++)
      out[k] = worlds[m + k] * point[0] + worlds[m + 4 + k] * point[1] + worlds[m + 8 + k] * point[2] + worlds[m + 12 + k];
  }
}
