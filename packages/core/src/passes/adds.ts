import { turnOn } from "../maths/rotation.ts";
import { powersOf } from "../maths/turnPower.ts";
import type { KeyedPassKind } from "./passKind.ts";

/** The pass's own value is a difference, laid on top of what is below. */
export const addsPass: KeyedPassKind = {
  id: "adds",
  reads: "keys",
  title: "Adds",
  help: "Adds its keys to the motion below, which keeps playing.",
  mix: (weight) => ({ keep: 1, take: weight }),
  rotations(turns, at, own, power) {
    if (power.share !== 1) powersOf(own, own, power);
    turnOn(turns, at, own);
  },
  neutral: () => 0,
};
