import { massesOf } from "../../figure/anatomy/masses.ts";
import { sayLength } from "../../model/sayLength.ts";
import { contactsOf, footPoints } from "../contactSpans.ts";
import type { Cost } from "../cost.ts";
import type { FigureMotion } from "../figureMotion.ts";

/** So far from over its feet a figure still stands, as a share of its size: about half a foot's length. */
const ROOM = 0.05;
/** Farther than that by so much is seen. */
const SEEN = 0.02;
/** The weight goes over from foot to foot within so long to either side, and a walk's path is looked at over so long: seconds. */
const GOES_OVER = 0.25;
const STRIDE = 0.5;
/** Feet whose path moves by less than this a second, as a share of the size, stand. */
const STANDS = 0.15;

/** Where a figure is held up at each frame: over what stands, and on the way from there to what stands next. Two numbers, X and Z, a frame. */
function supportOf(stands: readonly (readonly [number, number] | null)[], reach: number): Float64Array {
  const count = stands.length;
  const known = stands.flatMap((stand, f) => (stand ? [f] : []));
  const raw = new Float64Array(count * 2);
  let next = 0;
  for (let f = 0; f < count; f++) {
    while (next < known.length - 1 && known[next] < f) next++;
    const after = known[next] >= f ? known[next] : known[known.length - 1];
    const before = known.findLast((one) => one <= f) ?? after;
    const share = after > before ? (f - before) / (after - before) : 0;
    for (let k = 0; k < 2; k++) raw[f * 2 + k] = (stands[before]?.[k] ?? 0) * (1 - share) + (stands[after]?.[k] ?? 0) * share;
  }
  return meant(raw, reach);
}

/** Each pair of numbers as the mean of those around it, as far to one side as to the other. */
function meant(raw: Float64Array, reach: number): Float64Array {
  const count = raw.length / 2;
  const smooth = new Float64Array(raw.length);
  for (let f = 0; f < count; f++) {
    const far = Math.min(reach, f, count - 1 - f);
    for (let g = f - far; g <= f + far; g++) for (let k = 0; k < 2; k++) smooth[f * 2 + k] += raw[g * 2 + k] / (2 * far + 1);
  }
  return smooth;
}

/** How far the centre of mass is from over the feet, and of a figure that moves on from over the path of its feet. */
export const balance: Cost = {
  id: "balance",
  title: "Out of balance",
  unit: "length",
  help: "A figure that would fall: how far its weight is from over its standing feet, or beside the path of its feet while it moves on.",
  look(subject) {
    const { shot, size, fps, looks } = subject;
    const all = footPoints(subject);
    if (all.length === 0) return "no feet are known in this figure";
    const masses = massesOf(shot.rig).parts.map(({ control, share, at }) => ({ point: looks.point(control, at), share }));
    /** By frame: 1 where it stands on something; in the air nothing is out of balance. */
    let stood = new Uint8Array(0);
    let support: Float64Array = new Float64Array(0);
    /** By frame: the unit vector of the way the feet go; nothing where they stand. */
    let ways: Float64Array = new Float64Array(0);
    const pointAt = (motion: FigureMotion, point: number, frame: number) =>
      (frame * (motion.places.length / (3 * motion.count)) + point) * 3;
    /** How far the centre of mass is off, as a vector on the ground. */
    const offAt = (motion: FigureMotion, frame: number): [number, number] => {
      const off: [number, number] = [-support[frame * 2], -support[frame * 2 + 1]];
      for (const { point, share } of masses) {
        const at = pointAt(motion, point, frame);
        off[0] += share * motion.places[at];
        off[1] += share * motion.places[at + 2];
      }
      const [x, z] = [ways[frame * 2], ways[frame * 2 + 1]];
      const along = off[0] * x + off[1] * z;
      return [off[0] - along * x, off[1] - along * z];
    };
    const [room, seen] = [ROOM * size, SEEN * size];
    return {
      seen,
      begin(motion) {
        const spans = all.map((foot) => ({ foot, spans: contactsOf(subject, motion, foot) }));
        const stands = Array.from({ length: motion.count }, (_, f) => {
          const down = spans.filter((one) => one.spans.some(({ start, end }) => f >= start && f <= end));
          if (down.length === 0) return null;
          const mean = (k: number) =>
            down.reduce((sum, { foot }) => sum + motion.places[pointAt(motion, foot.point, f) + k], 0) / down.length;
          return [mean(0), mean(2)] as const;
        });
        stood = Uint8Array.from(stands, (stand) => (stand ? 1 : 0));
        if (!stood.includes(1)) return "no foot stands anywhere";
        support = supportOf(stands, Math.round(GOES_OVER * fps));
        const mean = (f: number, k: number) =>
          all.reduce((sum, { point }) => sum + motion.places[pointAt(motion, point, f) + k], 0) / all.length;
        const path = meant(
          Float64Array.from({ length: motion.count * 2 }, (_, n) => mean(n >> 1, n % 2 === 0 ? 0 : 2)),
          Math.round(STRIDE * fps),
        );
        ways = new Float64Array(motion.count * 2);
        for (let f = 0; f < motion.count; f++) {
          const [before, after] = [Math.max(0, f - 1), Math.min(motion.count - 1, f + 1)];
          const [x, z] = [path[after * 2] - path[before * 2], path[after * 2 + 1] - path[before * 2 + 1]];
          const pace = Math.hypot(x, z);
          if (after === before || (pace * fps) / (after - before) < STANDS * size) continue;
          ways.set([x / pace, z / pace], f * 2);
          support.set(path.subarray(f * 2, f * 2 + 2), f * 2);
        }
        return null;
      },
      judge(motion, strain, slope, weight) {
        let sum = 0;
        for (let f = 0; f < motion.count; f++) {
          const off = offAt(motion, f);
          const away = Math.hypot(...off);
          const beyond = stood[f] === 1 ? Math.max(0, away - room) : 0;
          strain[f] = beyond;
          sum += beyond * beyond;
          if (!slope || beyond === 0) continue;
          const by = (weight * 2 * beyond) / (seen * seen * motion.count * away);
          for (const { point, share } of masses) {
            const at = pointAt(slope, point, f);
            slope.places[at] += by * share * off[0];
            slope.places[at + 2] += by * share * off[1];
          }
        }
        return sum / (seen * seen * motion.count);
      },
      say(motion, frame) {
        const away = Math.hypot(...offAt(motion, frame));
        if (stood[frame] === 0) return "it is in the air";
        return away > room ? `its weight is ${sayLength(shot, away)} beside its feet` : "it stands in balance";
      },
    };
  },
};
