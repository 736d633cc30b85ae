import { quatMultiply, quatPower } from "../figure/rotation.ts";
import type { PassKind } from "./passKind.ts";

const turn = new Float64Array(4);
const inverse = new Float64Array(4);

/** The pass's own value takes the place of what is below, by as much as its weight says. */
export const replacesPass: PassKind = {
  id: "replaces",
  title: "Replaces",
  help: "Takes the place of the motion below wherever it has keys.",
  channel: (below, own, weight) => below + (own - below) * weight,
  rotation(q, o, own, p, weight) {
    inverse[0] = -q[o];
    inverse[1] = -q[o + 1];
    inverse[2] = -q[o + 2];
    inverse[3] = q[o + 3];
    quatMultiply(turn, 0, inverse, 0, own, p);
    quatPower(turn, 0, turn, 0, weight);
    quatMultiply(q, o, q, o, turn, 0);
  },
  neutral: (below) => below,
};
