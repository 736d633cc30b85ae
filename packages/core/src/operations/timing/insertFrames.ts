import { z } from "zod";
import { type Curve, keyAt, keyBefore, keysOf } from "../../curve/curve.ts";
import { insertKeyOn } from "../../curve/edit.ts";
import { openRounds } from "../../curve/loop.ts";
import { curveKeeping, keeping } from "../../curve/make.ts";
import { keptKeys } from "../../curve/someKeys.ts";
import { KneaderError } from "../../errors.ts";
import { layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { retime } from "./retime.ts";
import { needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  at: z.number().int().default(1).meta({ title: "After frame", unit: "frame", step: 1 }),
  frames: z
    .number()
    .int()
    .min(-100000)
    .max(100000)
    .default(4)
    .meta({ title: "Frames", unit: "frames", step: 1, help: "More than 0 inserts, less removes; keys in removed frames go." }),
});

/** Insert or remove frames: everything later moves. */
export const insertFrames: Operation<z.infer<typeof settings>> = {
  id: "insert-frames",
  title: "Insert or remove frames",
  group: "Timing",
  help: "Puts frames in after a frame, or takes some out: the motion before stays, the way to the next key is stretched or shortened, everything later moves along.",
  guide: {
    use: "Makes room in time, or takes it out, for the whole shot at once.",
    watch: "Keys in removed frames go; the report counts them.",
  },
  words: "add delete time cut ripple shift later make longer shorter remove",
  suits: ["a marked range"],
  leaves: ["range"],
  settings,
  situation: ({ frame }) => ({ at: Math.round(frame) }),
  async run(shot, scope, { at, frames }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Insert or remove frames");
    if (frames === 0) throw new KneaderError("bad-setting", "Insert or remove frames: 0 frames change nothing.");
    const gone = Math.max(0, -frames);
    const later = (frame: number) => (frame <= at ? frame : frame <= at + gone ? at : frame + frames);
    const after = retime(shot, scope, channels, (curve) => cutFrames(curve, at, gone, frames), later);
    const curves = layerCurves(shot, scope.layer);
    const lost = channels.reduce((sum, key) => sum + curves[key].times.filter((t) => t > at + 1e-6 && t <= at + gone + 1e-6).length, 0);
    const what = frames > 0 ? `Inserted ${countedWord(frames, "frame")} after ${at}` : `Removed ${countedWord(gone, "frame")} after ${at}`;
    return outcome(shot, after, what, { warnings: lost > 0 ? [`${countedWord(lost, "key")} stood in the frames that go.`] : [] });
  },
};

/**
 * Frames put in after a frame, or taken out. A key at the frame keeps what comes before; the way from there to the
 * next key is stretched or shortened and keeps its shape; later keys move. Where the last key stood in what goes, its
 * value comes right after the cut.
 */
function cutFrames(given: Curve, at: number, gone: number, frames: number): Curve {
  const curve = keyedAtCut(given, at, gone);
  const isGone = (time: number) => time > at + 1e-6 && time <= at + gone + 1e-6;
  const left = keptKeys(curve, (time) => !isGone(time));
  const end = keyAt(curve, curve.times.length - 1);
  if (left.times.length === 0) return curveKeeping([{ ...end, time: at }], curve);
  const cut = keyBefore(left.times, at + 1e-6) + 1;
  // What the last key held to the end of the shot is held from the cut on.
  if (cut === left.times.length && isGone(end.time)) return curveKeeping([...keysOf(left), { ...end, time: at + 1 }], curve);
  const { times } = left;
  const moved = { ...left, times: times.map((time, i) => (i >= cut ? time + frames : time)) };
  if (cut > 0 && cut < times.length) {
    const stretch = (times[cut] - times[cut - 1]) / (moved.times[cut] - moved.times[cut - 1]);
    moved.slopeOut = left.slopeOut.slice();
    moved.slopeIn = left.slopeIn.slice();
    moved.slopeOut[cut - 1] *= stretch;
    moved.slopeIn[cut] *= stretch;
  }
  return keeping(moved);
}

/** The curve with a key where it is cut, so that the motion before stays; the same curve where it holds there. */
function keyedAtCut(given: Curve, at: number, gone: number): Curve {
  const curve = openRounds(openRounds(given, at), at + gone);
  const [first, last] = [curve.times[0], curve.times[curve.times.length - 1]];
  if (at >= last) return curve.runOut.kind === "straight" ? insertKeyOn(insertKeyOn(curve, at), at + gone + 1) : curve;
  const losesFirst = first > at && first <= at + gone + 1e-6 && curve.times.length > 1;
  return at > first || losesFirst || curve.runIn.kind === "straight" ? insertKeyOn(curve, at) : curve;
}
