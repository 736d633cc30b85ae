import { quatMultiply, turnOn } from "../maths/rotation.ts";
import { powersOf } from "../maths/turnPower.ts";
import type { KeyedPassKind } from "./passKind.ts";

const inverse = new Float64Array(4);

/** The pass's own value takes the place of what is below, by as much as its weight says. */
export const replacesPass: KeyedPassKind = {
  id: "replaces",
  reads: "keys",
  title: "Replaces",
  help: "Takes the place of the motion below wherever it has keys.",
  mix: (weight) => ({ keep: 1 - weight, take: weight }),
  rotations(turns, at, own, power) {
    // The way from what is below to the pass's own turn, a share of which is gone.
    for (let n = 0; n < at.length; n++) {
      for (let k = 0; k < 3; k++) inverse[k] = -turns[4 * at[n] + k];
      inverse[3] = turns[4 * at[n] + 3];
      quatMultiply(own, 4 * n, inverse, 0, own, 4 * n);
    }
    powersOf(own, own, power);
    turnOn(turns, at, own);
  },
  neutral: (below) => below,
};
