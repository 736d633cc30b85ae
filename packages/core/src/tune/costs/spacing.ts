import { sayLength } from "../../model/sayLength.ts";
import type { Cost } from "../cost.ts";
import { endsOf } from "../ends.ts";
import type { FigureMotion } from "../figureMotion.ts";
import { differ, fits, handOn, type Stencil } from "./stencil.ts";

/** A step longer or shorter than its neighbours by so much is just seen, as a share of the figure. */
const SEEN = 0.004;
/** Steps shorter than this, as a share of the figure, have less and less of a length. */
const SHORT = 1e-3;
const STEP: Stencil = { from: 0, weights: [-1, 1] };
/** The steps whose lengths are compared. */
const SPAN: Stencil = { from: -1, weights: [0, 0, 0, 0] };

/** How uneven the steps of the ends are from frame to frame. */
export const spacing: Cost = {
  id: "spacing",
  title: "Uneven spacing",
  unit: "length",
  help: "Steps from frame to frame that are longer or shorter than the ones before and after them.",
  look(subject) {
    const { shot, size } = subject;
    const ends = endsOf(subject);
    const [seen, short] = [SEEN * size, SHORT * size];
    const step = new Float64Array(3);
    const by = new Float64Array(3);
    const lengthAt = (motion: FigureMotion, point: number, frame: number) => {
      differ(step, motion, point, frame, STEP);
      return Math.sqrt(step[0] ** 2 + step[1] ** 2 + step[2] ** 2 + short * short);
    };
    const unevenAt = (motion: FigureMotion, point: number, frame: number) =>
      lengthAt(motion, point, frame) - (lengthAt(motion, point, frame - 1) + lengthAt(motion, point, frame + 1)) / 2;
    return {
      seen,
      judge(motion, strain, slope, weight) {
        const frames = Math.max(1, motion.count - SPAN.weights.length + 1);
        const scale = 1 / (seen * seen * frames * ends.length);
        let sum = 0;
        for (let f = 0; f < motion.count; f++) {
          strain[f] = 0;
          if (!fits(SPAN, f, motion.count)) continue;
          for (const { point } of ends) {
            const uneven = unevenAt(motion, point, f);
            strain[f] += (uneven * uneven) / ends.length;
            sum += uneven * uneven;
            if (!slope) continue;
            for (const [at, share] of [
              [f - 1, -0.5],
              [f, 1],
              [f + 1, -0.5],
            ]) {
              const length = lengthAt(motion, point, at);
              for (let k = 0; k < 3; k++) by[k] = (weight * scale * 2 * uneven * share * step[k]) / length;
              handOn(slope, point, at, STEP, by);
            }
          }
          strain[f] = Math.sqrt(strain[f]);
        }
        return sum * scale;
      },
      say(motion, frame) {
        if (!fits(SPAN, frame, motion.count)) return "";
        const all = ends.map(({ point }) => unevenAt(motion, point, frame));
        const worst = all.reduce((most, one, n) => (Math.abs(one) > Math.abs(all[most]) ? n : most), 0);
        return `${ends[worst].name} steps ${sayLength(shot, Math.abs(all[worst]))} ${all[worst] > 0 ? "more" : "less"} than around it`;
      },
    };
  },
};
