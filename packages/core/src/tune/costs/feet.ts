import type { FrameRange } from "../../model/shot.ts";
import { sayLength } from "../../model/sayLength.ts";
import { contactsOf, type Foot, footPoints } from "../contactSpans.ts";
import type { Cost } from "../cost.ts";
import type { FigureMotion } from "../figureMotion.ts";

/** How far a standing foot may be from its place until it is seen, as a share of the figure. */
const SEEN = 0.002;

interface Standing {
  readonly foot: Foot;
  /** Within the motion. */
  readonly span: FrameRange;
  readonly beyond: Beyond;
}

/** Places where a foot stands before and after a part of a motion that is looked at: how many, about where, and from there their sum and that of their squares. */
interface Beyond {
  count: number;
  readonly about: Float64Array;
  readonly sum: Float64Array;
  squares: number;
}

/** How far standing feet slide and rise or sink. Who stands when is found in the motion as it was, as for planting. */
export const feet: Cost = {
  id: "feet",
  title: "Sliding feet",
  unit: "length",
  help: "Feet that stand and yet slide, rise or sink: how far each is from the place where it stands.",
  look(subject) {
    const all = footPoints(subject);
    if (all.length === 0) return "no feet are known in this figure";
    let standing: Standing[] = [];
    const mean = new Float64Array(3);
    const placeAt = (motion: FigureMotion, { point }: Foot, frame: number) =>
      (frame * (motion.places.length / (3 * motion.count)) + point) * 3;
    const meanOf = (motion: FigureMotion, { foot, span, beyond }: Standing) => {
      const frames = span.end - span.start + 1 + beyond.count;
      for (let k = 0; k < 3; k++) mean[k] = (beyond.count * beyond.about[k] + beyond.sum[k]) / frames;
      for (let f = span.start; f <= span.end; f++) {
        const at = placeAt(motion, foot, f);
        for (let k = 0; k < 3; k++) mean[k] += motion.places[at + k] / frames;
      }
    };
    /** What of a span of the whole is beyond the frames from one to another. */
    const beyondOf = (whole: FigureMotion, foot: Foot, span: FrameRange, from: number, to: number): Beyond => {
      const beyond: Beyond = { count: 0, about: new Float64Array(3), sum: new Float64Array(3), squares: 0 };
      for (let f = span.start; f <= span.end; f++) {
        if (f >= from && f <= to) continue;
        const at = placeAt(whole, foot, f);
        if (beyond.count === 0) beyond.about.set(whole.places.subarray(at, at + 3));
        beyond.count++;
        for (let k = 0; k < 3; k++) {
          const off = whole.places[at + k] - beyond.about[k];
          beyond.sum[k] += off;
          beyond.squares += off * off;
        }
      }
      return beyond;
    };
    /** The squares of how far places beyond are from the mean. */
    const squaresBeyond = ({ count, about, sum, squares }: Beyond) => {
      let all = squares;
      for (let k = 0; k < 3; k++) all += (mean[k] - about[k]) * (count * (mean[k] - about[k]) - 2 * sum[k]);
      return all;
    };
    const seen = SEEN * subject.size;
    return {
      seen,
      begin(motion, whole = motion) {
        const first = motion.start - whole.start;
        const last = first + motion.count - 1;
        standing = all.flatMap((foot) =>
          contactsOf(subject, whole, foot).flatMap((span) => {
            const [from, to] = [Math.max(span.start, first), Math.min(span.end, last)];
            if (from > to) return [];
            return [{ foot, span: { start: from - first, end: to - first }, beyond: beyondOf(whole, foot, span, from, to) }];
          }),
        );
        return standing.length > 0 ? null : "no foot stands anywhere";
      },
      judge(motion, strain, slope, weight) {
        const frames = standing.reduce((sum, { span }) => sum + span.end - span.start + 1, 0);
        const scale = 1 / (seen * seen * frames);
        strain.fill(0);
        let sum = 0;
        for (const one of standing) {
          meanOf(motion, one);
          if (one.beyond.count > 0) sum += squaresBeyond(one.beyond);
          for (let f = one.span.start; f <= one.span.end; f++) {
            const at = placeAt(motion, one.foot, f);
            let square = 0;
            for (let k = 0; k < 3; k++) {
              const off = motion.places[at + k] - mean[k];
              square += off * off;
              // What the mean itself does falls out: offs from a mean add up to nothing.
              if (slope) slope.places[at + k] += weight * scale * 2 * off;
            }
            sum += square;
            strain[f] = Math.max(strain[f], Math.sqrt(square));
          }
        }
        return sum * scale;
      },
      say(motion, frame) {
        let worst = { name: "", off: -1, rise: 0 };
        for (const one of standing.filter(({ span }) => frame >= span.start && frame <= span.end)) {
          meanOf(motion, one);
          const at = placeAt(motion, one.foot, frame);
          const [x, y, z] = [0, 1, 2].map((k) => motion.places[at + k] - mean[k]);
          const off = Math.hypot(x, y, z);
          if (off > worst.off) worst = { name: one.foot.name, off, rise: y };
        }
        if (worst.off < 0) return "no foot stands";
        const upright = Math.abs(worst.rise) > 0.8 * worst.off;
        return `${worst.name} ${upright ? (worst.rise > 0 ? "rises" : "sinks") : "slides"} ${sayLength(subject.shot, worst.off)}`;
      },
    };
  },
};
