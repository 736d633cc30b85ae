import { channelTitle, controlById, figureControls } from "../../model/rig.ts";
import type { Cost } from "../cost.ts";
import type { FigureMotion } from "../figureMotion.ts";

/** Degrees past what a joint does otherwise that are just seen. */
const SEEN = 2;
/** A joint's range is what it does but for so small a share of the frames at either end, and some room. */
const RARE = 0.03;
const ROOM = 3;
/** A joint snaps when it turns by more than so many times what it mostly does at its quickest, and by this much more. */
const QUICKER = 2;
const SNAP = 1;

interface Joint {
  readonly channel: number;
  readonly name: string;
  readonly low: number;
  readonly high: number;
  /** Degrees a frame. */
  readonly pace: number;
}

function quantile(sorted: Float64Array, share: number): number {
  const at = share * (sorted.length - 1);
  const low = Math.floor(at);
  return sorted[low] + (sorted[Math.min(sorted.length - 1, low + 1)] - sorted[low]) * (at - low);
}

/** The range of a joint that turns so (degrees at each frame; put in order by this). */
export function learnedRange(values: Float64Array): [low: number, high: number] {
  values.sort();
  return [quantile(values, RARE) - ROOM, quantile(values, 1 - RARE) + ROOM];
}

/** How far joints are past what they do in the rest of the shot, and how much quicker they turn from frame to frame. */
export const joints: Cost = {
  id: "joints",
  title: "Strained joints",
  unit: "degrees",
  help: "Joints that go past their range, or snap from one frame to the next. Ranges are those of the rig page; where it says none, and for the pace, what is rare in the shot is strained.",
  look({ shot, looks }) {
    const turns = figureControls(shot.rig)
      .filter(({ role, parent }) => role === "figure" && parent !== null)
      .flatMap(({ id, channels }) => channels.filter((channel) => channel.startsWith("rotate")).map((channel) => ({ id, channel })));
    if (turns.length === 0) return "no control of the figure turns";
    const looked = turns.map(({ id, channel }) => ({
      channel: looks.channel(id, channel),
      range: controlById(shot.rig, id)?.ranges?.[channel] ?? null,
      name: channelTitle(shot.rig, `${id}.${channel}`),
    }));
    let all: Joint[] = [];
    const valueAt = ({ values, count }: FigureMotion, channel: number, frame: number) => values[frame * (values.length / count) + channel];
    /** Past its range there, and quicker than its pace from the frame before; signed. */
    const past = (value: number, { low, high }: Joint) => (value > high ? value - high : value < low ? value - low : 0);
    const snaps = (turn: number, { pace }: Joint) => (turn > pace ? turn - pace : turn < -pace ? turn + pace : 0);
    return {
      seen: SEEN,
      begin(part, motion = part) {
        all = looked.map(({ channel, name, range }) => {
          const values = new Float64Array(motion.count);
          for (let f = 0; f < motion.count; f++) values[f] = valueAt(motion, channel, f);
          const paces = new Float64Array(Math.max(1, motion.count - 1));
          for (let f = 0; f + 1 < motion.count; f++) paces[f] = Math.abs(values[f + 1] - values[f]);
          paces.sort();
          const [low, high] = range ?? learnedRange(values);
          return {
            channel,
            name,
            low,
            high,
            pace: QUICKER * quantile(paces, 0.9) + SNAP,
          };
        });
        return null;
      },
      judge(motion, strain, slope, weight) {
        const width = motion.values.length / motion.count;
        const scale = 1 / (SEEN * SEEN * motion.count);
        strain.fill(0);
        let sum = 0;
        for (const joint of all)
          for (let f = 0; f < motion.count; f++) {
            const value = valueAt(motion, joint.channel, f);
            const over = past(value, joint);
            const snap = f > 0 ? snaps(value - valueAt(motion, joint.channel, f - 1), joint) : 0;
            if (over === 0 && snap === 0) continue;
            sum += over * over + snap * snap;
            strain[f] = Math.max(strain[f], Math.abs(over), Math.abs(snap));
            if (!slope) continue;
            slope.values[f * width + joint.channel] += weight * scale * 2 * (over + snap);
            if (f > 0) slope.values[(f - 1) * width + joint.channel] -= weight * scale * 2 * snap;
          }
        return sum * scale;
      },
      say(motion, frame) {
        let worst = { text: "no joint is strained", amount: 0 };
        for (const joint of all) {
          const value = valueAt(motion, joint.channel, frame);
          const over = Math.abs(past(value, joint));
          const snap = frame > 0 ? Math.abs(snaps(value - valueAt(motion, joint.channel, frame - 1), joint)) : 0;
          if (over > worst.amount) worst = { text: `${joint.name} is ${over.toFixed(1)}° past its range`, amount: over };
          if (snap > worst.amount)
            worst = { text: `${joint.name} snaps by ${snap.toFixed(1)}° more than it otherwise turns`, amount: snap };
        }
        return worst.text;
      },
    };
  },
};
