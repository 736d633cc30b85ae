import { quatMultiply, quatPower } from "../figure/rotation.ts";
import type { PassKind } from "./passKind.ts";

const part = new Float64Array(4);

/** The pass's own value is a difference, laid on top of what is below. */
export const addsPass: PassKind = {
  id: "adds",
  title: "Adds",
  help: "Adds its keys to the motion below, which keeps playing.",
  channel: (below, own, weight) => below + own * weight,
  rotation(q, o, own, p, weight) {
    quatPower(part, 0, own, p, weight);
    quatMultiply(q, o, q, o, part, 0);
  },
  neutral: () => 0,
};
