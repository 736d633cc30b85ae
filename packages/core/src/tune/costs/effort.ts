import { massesOf } from "../../figure/anatomy/masses.ts";
import { sayLength } from "../../model/sayLength.ts";
import type { Cost } from "../cost.ts";
import { judgeStencil, SECOND, worstOf } from "./stencil.ts";

/** The acceleration that is just felt, at 24 frames a second, as a share of the figure and a frame squared. */
const SEEN = 0.01;

/** What it takes to move the heavy parts: the accelerations of the segments' masses (de Leva 1996), each as much as it weighs. */
export const effort: Cost = {
  id: "effort",
  title: "Effort",
  unit: "length",
  help: "Heavy parts that are thrown about: how hard trunk, head and limbs are accelerated, each as much as it weighs.",
  look({ shot, fps, size, looks }) {
    const { controls } = shot.rig;
    const parts = massesOf(shot.rig).parts.map(({ control, share, at }) => ({
      point: looks.point(control, at),
      share,
      name: controls[control].name,
    }));
    const seen = SEEN * size * (24 / fps) ** 2;
    return {
      seen,
      judge: (motion, strain, slope, weight) => judgeStencil(parts, SECOND, seen, motion, strain, slope, weight),
      say(motion, frame) {
        const worst = worstOf(parts, SECOND, motion, frame);
        return worst ? `${worst.one.name} is accelerated by ${sayLength(shot, worst.amount)} a frame, each frame` : "";
      },
    };
  },
};
