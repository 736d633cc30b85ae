import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { measureDriftInPieces } from "../drift.ts";
import { KneaderError } from "../errors.ts";
import { localValues, placeChannels, scaleOf } from "../figure/localValues.ts";
import { makePlayer } from "../figure/player.ts";
import { activePasses } from "../passes/active.ts";
import { changedBy } from "../passes/members.ts";
import { type ChannelKey, channelKey, type Control, controlById } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { curveFromSamples } from "./bakeValues.ts";
import type { Operation } from "./operation.ts";
import { outcome } from "./scope.ts";

const settings = z.object({});

/** Turn what follows give a control into plain keys on it. */
export const bakeFollow: Operation<z.infer<typeof settings>> = {
  id: "bake-follow",
  title: "Bake follow",
  group: "Spaces",
  help: "Gives every control in scope that follows another plain keys on each frame, then switches its follows off.",
  words: "constraint parent attach hand prop space keys",
  settings,
  async run(shot, scope, _settings, context) {
    const wanted = scope.controls === null ? null : new Set(scope.controls);
    const ids = [...new Set(shot.follows.filter((f) => f.on && (wanted === null || wanted.has(f.control))).map((f) => f.control))];
    if (ids.length === 0)
      throw new KneaderError(
        "nothing-in-scope",
        "Bake follow: no control in scope follows another.",
        "Pick a control with a follow, or widen the scope.",
      );
    for (const id of ids) refusePasses(shot, id);
    const start = Math.floor(shot.range.start);
    const count = Math.ceil(shot.range.end) - start + 1;
    const player = makePlayer(shot);
    const samples = new Map<ChannelKey, Float64Array>(
      ids.flatMap((id) => placeChannels.map((channel) => [channelKey(id, channel), new Float64Array(count)] as const)),
    );
    for (let n = 0; n < count; n++) {
      if (n % 64 === 63) await context.breathe((0.5 * n) / count);
      player.pose(start + n);
      for (const id of ids) {
        const tracks = placeChannels.map((channel) => samples.get(channelKey(id, channel)) as Float64Array);
        const near = tracks.map((track) => (n > 0 ? track[n - 1] : 0));
        localValues(player, controlById(shot.rig, id) as Control, near, scaleOf(player, id)).forEach((value, k) => {
          tracks[k][n] = value;
        });
      }
    }
    const base: Record<ChannelKey, Curve> = { ...shot.base };
    for (const [key, values] of samples) base[key] = curveFromSamples(start, values);
    const controls = shot.rig.controls.map((control) =>
      ids.includes(control.id) ? { ...control, channels: [...new Set([...control.channels, ...placeChannels])] } : control,
    );
    const after: Shot = {
      ...shot,
      rig: { ...shot.rig, controls },
      base,
      follows: shot.follows.map((f) => (ids.includes(f.control) ? { ...f, on: false } : f)),
    };
    const drift = await measureDriftInPieces(shot, after, shot.range, (share) => context.breathe(0.9 + 0.1 * share));
    const names = ids.map((id) => controlById(shot.rig, id)?.name).join(", ");
    return outcome(shot, after, `Baked the follows of ${names} to keys`, { drift });
  },
};

/** A pass that moves the follower would come on top of the baked keys a second time. */
function refusePasses(shot: Shot, id: string): void {
  const pass = activePasses(shot).find((p) => changedBy(shot, p).some((key) => key.startsWith(`${id}.`)));
  if (pass)
    throw new KneaderError(
      "bad-setting",
      `Bake follow: pass "${pass.name}" also moves ${controlById(shot.rig, id)?.name}.`,
      "Bake or switch off that pass first.",
    );
}
