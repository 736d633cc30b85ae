import { bodyOf } from "../../figure/anatomy/bodyOf.ts";
import { skeletonOf } from "../../figure/anatomy/skeleton.ts";
import { sayLength } from "../../model/sayLength.ts";
import type { Cost } from "../cost.ts";
import { endsOf } from "../ends.ts";
import type { FigureMotion } from "../figureMotion.ts";

/** A jump where a loop begins again that is just seen, as a share of the figure. */
const SEEN = 0.003;

/** How far the last pose is from the first one, and how differently both move on; where the figure travels its pelvis' way is left out. */
export const loop: Cost = {
  id: "loop",
  title: "Open loop",
  unit: "length",
  help: "A cycle that does not close: how far the last pose is from the first, and how differently it moves on. The way the figure goes is left out.",
  spans: true,
  look(subject) {
    const { shot, size, looks } = subject;
    const ends = endsOf(subject);
    const body = bodyOf(skeletonOf(shot.rig));
    const middle = body ? looks.point(body.trunk[0]) : null;
    const paths = ends.filter(({ point }) => point !== middle);
    if (paths.length === 0) return "nothing of the figure moves against the rest of it";
    /** Where a point is from the middle; the middle's height stays. */
    const at = (motion: FigureMotion, point: number, frame: number, k: number) => {
      const row = frame * (motion.places.length / (3 * motion.count));
      const own = motion.places[(row + point) * 3 + k];
      return middle === null || k === 1 ? own : own - motion.places[(row + middle) * 3 + k];
    };
    const add = (slope: FigureMotion, point: number, frame: number, k: number, by: number) => {
      const row = frame * (slope.places.length / (3 * slope.count));
      slope.places[(row + point) * 3 + k] += by;
      if (middle !== null && k !== 1) slope.places[(row + middle) * 3 + k] -= by;
    };
    /** Of a path: frames and their weights, for the jump of the pose and of the pace. */
    const jumps = (last: number) => [
      [
        [last, 1],
        [0, -1],
      ],
      [
        [last, 1],
        [last - 1, -1],
        [1, -1],
        [0, 1],
      ],
    ];
    const seen = SEEN * size;
    return {
      seen,
      begin: (motion) => (motion.count < 4 ? "the shot is too short to be a loop" : null),
      judge(motion, strain, slope, weight) {
        const scale = 1 / (seen * seen * paths.length);
        const last = motion.count - 1;
        strain.fill(0);
        let sum = 0;
        for (const { point } of paths)
          for (const jump of jumps(last))
            for (let k = 0; k < 3; k++) {
              const off = jump.reduce((all, [frame, share]) => all + share * at(motion, point, frame, k), 0);
              sum += off * off;
              strain[last] += (off * off) / paths.length;
              if (slope) for (const [frame, share] of jump) add(slope, point, frame, k, weight * scale * 2 * off * share);
            }
        strain[last] = Math.sqrt(strain[last]);
        strain[0] = strain[last];
        return sum * scale;
      },
      say(motion, frame) {
        const last = motion.count - 1;
        if (frame !== 0 && frame !== last) return "";
        const offs = paths.map(({ point }) => Math.hypot(...[0, 1, 2].map((k) => at(motion, point, last, k) - at(motion, point, 0, k))));
        const most = Math.max(...offs);
        return `${paths[offs.indexOf(most)].name} jumps ${sayLength(shot, most)} where it begins again`;
      },
    };
  },
};
