import { quatMultiply, quatPower } from "../maths/rotation.ts";
import type { KeyedPassKind } from "./passKind.ts";

const turn = new Float64Array(4);
const inverse = new Float64Array(4);

/** The pass's own value takes the place of what is below, by as much as its weight says. */
export const replacesPass: KeyedPassKind = {
  id: "replaces",
  reads: "keys",
  title: "Replaces",
  help: "Takes the place of the motion below wherever it has keys.",
  mix: (weight) => ({ keep: 1 - weight, take: weight }),
  rotations(turns, at, own, weight) {
    for (let n = 0; n < at.length; n++) {
      const o = 4 * at[n];
      inverse[0] = -turns[o];
      inverse[1] = -turns[o + 1];
      inverse[2] = -turns[o + 2];
      inverse[3] = turns[o + 3];
      quatMultiply(turn, 0, inverse, 0, own, 4 * n);
      quatPower(turn, 0, turn, 0, weight);
      quatMultiply(turns, o, turns, o, turn, 0);
    }
  },
  neutral: (below) => below,
};
