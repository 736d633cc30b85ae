import { sayLength } from "../../model/sayLength.ts";
import type { Cost } from "../cost.ts";
import { type End, endsOf } from "../ends.ts";
import type { FigureMotion } from "../figureMotion.ts";
import { differ, fits, handOn, OFF, type Stencil } from "./stencil.ts";

/** How far off its arc a place is just seen to be, as a share of the figure. */
const SEEN = 0.002;
/** Slower than this, as a share of the figure a frame, a path has less and less of a direction. */
const SLOW = 1e-3;

/** From the frame before to the frame after. */
const ALONG: Stencil = { from: -1, weights: [-1, 0, 1] };

interface Sideways {
  /** The way the path goes there, shorter where it is slow. */
  readonly way: Float64Array;
  /** How long what `way` was made of would be, with what is slow. */
  readonly length: number;
  /** How far the place is off, and how much of that is along the way. */
  readonly off: Float64Array;
  readonly along: number;
  /** The square of what is sideways. */
  readonly square: number;
}

const off = new Float64Array(3);
const way = new Float64Array(3);

function sidewaysAt(motion: FigureMotion, point: number, frame: number, slow: number): Sideways {
  differ(off, motion, point, frame, OFF);
  differ(way, motion, point, frame, ALONG);
  const length = Math.sqrt(way[0] ** 2 + way[1] ** 2 + way[2] ** 2 + slow * slow);
  for (let k = 0; k < 3; k++) way[k] /= length;
  const along = off[0] * way[0] + off[1] * way[1] + off[2] * way[2];
  const square = Math.max(0, off[0] ** 2 + off[1] ** 2 + off[2] ** 2 - along * along);
  return { way, length, off, along, square };
}

/** How far the ends are beside the arcs their neighbouring places make. */
export const arc: Cost = {
  id: "arc",
  title: "Crooked arcs",
  unit: "length",
  help: "Hands, feet, head and tail that wander off their arc: how far each place is beside the curve through the places around it.",
  look(subject) {
    const { shot, size } = subject;
    const ends: readonly End[] = endsOf(subject);
    const [seen, slow] = [SEEN * size, SLOW * size];
    const by = new Float64Array(3);
    return {
      seen,
      judge(motion, strain, slope, weight) {
        const frames = Math.max(1, motion.count - OFF.weights.length + 1);
        const scale = 1 / (seen * seen * frames * ends.length);
        let sum = 0;
        for (let f = 0; f < motion.count; f++) {
          strain[f] = 0;
          if (!fits(OFF, f, motion.count)) continue;
          for (const { point } of ends) {
            const { square, along, length } = sidewaysAt(motion, point, f, slow);
            strain[f] += square / ends.length;
            sum += square;
            if (!slope) continue;
            for (let k = 0; k < 3; k++) by[k] = weight * scale * 2 * (off[k] - along * way[k]);
            handOn(slope, point, f, OFF, by);
            for (let k = 0; k < 3; k++) by[k] = (weight * scale * -2 * along * (off[k] - along * way[k])) / length;
            handOn(slope, point, f, ALONG, by);
          }
          strain[f] = Math.sqrt(strain[f]);
        }
        return sum * scale;
      },
      say(motion, frame) {
        if (!fits(OFF, frame, motion.count)) return "";
        const squares = ends.map(({ point }) => sidewaysAt(motion, point, frame, slow).square);
        const most = Math.max(...squares);
        return `${ends[squares.indexOf(most)].name} is ${sayLength(shot, Math.sqrt(most))} beside its arc`;
      },
    };
  },
};
