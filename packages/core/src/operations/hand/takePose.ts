import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { travellers } from "../../figure/carryOn.ts";
import { DEG, eulerFromQuat, nearestEuler, quatFromEuler } from "../../maths/rotation.ts";
import { turnPartWay } from "../../maths/turnPartWay.ts";
import { type ChannelKey, channelKey, type Control, restValue, rotateChannels, splitChannelKey } from "../../model/rig.ts";
import { keyChannels } from "../shared/keyChannels.ts";
import { layerPose } from "../shared/layerPose.ts";
import { isWhole, wantedChannels } from "../shared/scope.ts";
import { byHand } from "./handOperation.ts";

const settings = z.object({
  frame: z.number(),
  /** The pose, by channel. */
  values: z.record(z.string(), z.number()),
  /** How far toward it: 1 is all the way. */
  share: z.number().min(-10).max(10),
});

/** Key a pose from elsewhere at a frame, as far toward it as a dial says: turns part of the way round, the rest by its share. */
export const takePose = byHand<z.infer<typeof settings>>({
  id: "take-pose",
  title: "Take a pose",
  help: "Keys a pose from elsewhere at a frame.",
  settings,
  edit(shot, scope, { frame, values, share }) {
    const meant = new Set(wantedChannels(shot, { ...scope, keys: null, range: null }));
    // Of the whole figure, where it stands stays: only how it stands is taken.
    const going = new Set(isWhole({ ...scope, keys: null }) ? travellers(shot.rig).map(({ id }) => id) : []);
    const keys = Object.keys(values).filter((key) => meant.has(key) && !going.has(splitChannelKey(key).control));
    if (keys.length === 0)
      throw new KneaderError("nothing-in-scope", "Take a pose: it says nothing of what is in scope.", "Pick what it moves, or nothing.");
    const now = layerPose(shot, scope.layer, frame);
    const put: Record<ChannelKey, number> = {};
    for (const key of keys) {
      const from = now[key] ?? restValue(splitChannelKey(key).channel);
      put[key] = from + share * (values[key] - from);
    }
    for (const control of shot.rig.controls) Object.assign(put, turned(control, now, values, share, put));
    return {
      shot: keyChannels(shot, scope.layer, frame, put),
      summary: `Pose at ${frame}${share === 1 ? "" : `, ${Math.round(share * 100)} %`}`,
    };
  },
});

type Values = Readonly<Record<ChannelKey, number>>;

/** The three angles of a control part of the way round to a pose, where all three are taken. */
function turned({ id, order }: Control, now: Values, values: Values, share: number, put: Values): Record<ChannelKey, number> {
  const keys = rotateChannels.map((channel) => channelKey(id, channel));
  if (!keys.every((key) => key in put) || share === 1) return {};
  const [a, b, out] = [new Float64Array(4), new Float64Array(4), new Float64Array(4)];
  const from = keys.map((key) => now[key] ?? 0);
  quatFromEuler(a, 0, from[0] * DEG, from[1] * DEG, from[2] * DEG, order);
  const [x, y, z] = keys.map((key) => values[key] * DEG);
  quatFromEuler(b, 0, x, y, z, order);
  turnPartWay(out, 0, a, 0, b, 0, share);
  const euler = new Float64Array(3);
  eulerFromQuat(euler, 0, out, 0, order);
  for (let k = 0; k < 3; k++) euler[k] /= DEG;
  const near = nearestEuler(euler, from, order);
  return Object.fromEntries(keys.map((key, k) => [key, near[k]]));
}
