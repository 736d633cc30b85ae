import { quatMultiply, quatPower } from "../maths/rotation.ts";
import type { KeyedPassKind } from "./passKind.ts";

const part = new Float64Array(4);

/** The pass's own value is a difference, laid on top of what is below. */
export const addsPass: KeyedPassKind = {
  id: "adds",
  reads: "keys",
  title: "Adds",
  help: "Adds its keys to the motion below, which keeps playing.",
  mix: (weight) => ({ keep: 1, take: weight }),
  rotations(turns, at, own, weight) {
    for (let n = 0; n < at.length; n++) {
      const o = 4 * at[n];
      if (weight === 1) quatMultiply(turns, o, turns, o, own, 4 * n);
      else {
        quatPower(part, 0, own, 4 * n, weight);
        quatMultiply(turns, o, turns, o, part, 0);
      }
    }
  },
  neutral: () => 0,
};
