import { z } from "zod";
import { type Curve, keysOf } from "../curve/curve.ts";
import { curveFromKeys } from "../curve/make.ts";
import { KneaderError } from "../errors.ts";
import { layerCurves } from "../model/shot.ts";
import type { Operation } from "./operation.ts";
import { retime } from "./retime.ts";
import { needSomething, outcome, scopedChannels } from "./scope.ts";

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
  help: "Puts frames in after a frame, or takes some out; everything later moves along.",
  words: "add delete time cut ripple shift later",
  settings,
  async run(shot, scope, { at, frames }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Insert or remove frames");
    if (frames === 0) throw new KneaderError("bad-setting", "Insert or remove frames: 0 frames change nothing.");
    const gone = Math.max(0, -frames);
    const later = (frame: number) => (frame <= at ? frame : frame <= at + gone ? at : frame + frames);
    const after = retime(shot, scope, channels, (curve) => cut(curve, at, gone, frames), later);
    const curves = layerCurves(shot, scope.layer);
    const lost = channels.reduce((sum, key) => sum + curves[key].times.filter((t) => t > at + 1e-6 && t <= at + gone + 1e-6).length, 0);
    const what = frames > 0 ? `Inserted ${frames} frames after ${at}` : `Removed ${gone} frames after ${at}`;
    return outcome(shot, after, what, { warnings: lost > 0 ? [`${lost} keys stood in the frames that go.`] : [] });
  },
};

/** A curve always keeps a key: when all of them stood in what goes, the last one stays at the cut. */
function cut(curve: Curve, at: number, gone: number, frames: number): Curve {
  const keys = keysOf(curve);
  const left = keys.filter(({ time }) => time <= at + 1e-6 || time > at + gone + 1e-6);
  if (left.length === 0) return curveFromKeys([{ ...keys[keys.length - 1], time: at }], curve);
  return curveFromKeys(
    left.map((key) => (key.time > at + 1e-6 ? { ...key, time: key.time + frames } : key)),
    curve,
  );
}
