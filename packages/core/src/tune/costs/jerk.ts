import { sayLength } from "../../model/sayLength.ts";
import type { Cost } from "../cost.ts";
import { endsOf } from "../ends.ts";
import { judgeStencil, THIRD, worstOf } from "./stencil.ts";

/** The change of acceleration from frame to frame that is just seen, at 24 frames a second, as a share of the figure. */
const SEEN = 0.003;

/** How unevenly the ends are accelerated: the third differences of their paths (Flash & Hogan 1985 take the same as what hands avoid). */
export const jerk: Cost = {
  id: "jerk",
  title: "Jerk",
  unit: "length",
  help: "Hands, feet, head and tail that are pushed and pulled from frame to frame: how suddenly their acceleration changes.",
  look(subject) {
    const { shot, fps, size } = subject;
    const ends = endsOf(subject);
    const paths = ends.map((end) => ({ ...end, share: 1 / ends.length }));
    const seen = SEEN * size * (24 / fps) ** 3;
    return {
      seen,
      judge: (motion, strain, slope, weight) => judgeStencil(paths, THIRD, seen, motion, strain, slope, weight),
      say(motion, frame) {
        const worst = worstOf(paths, THIRD, motion, frame);
        return worst ? `${worst.one.name} is jerked by ${sayLength(shot, worst.amount)} a frame, each frame` : "";
      },
    };
  },
};
