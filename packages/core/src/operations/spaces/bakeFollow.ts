import { z } from "zod";
import { type Curve, makeKey, Tangent } from "../../curve/curve.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { unionOfTimes } from "../../curve/timeRows.ts";
import { measureDriftInPieces } from "../../evaluate/drift.ts";
import { KneaderError } from "../../errors.ts";
import { localValues, placeChannels, scaleOf } from "../../figure/localValues.ts";
import { makePlayer, type Player } from "../../evaluate/makePlayer.ts";
import { ledControls, tiesOf } from "../../constraints/ledControls.ts";
import { activePasses } from "../../passes/active.ts";
import { changedBy } from "../../passes/members.ts";
import { type ChannelKey, channelKey, type Control, controlById } from "../../model/rig.ts";
import type { FrameRange, Shot } from "../../model/shot.ts";
import { curveFromSamples } from "../../curve/bakeValues.ts";
import { withOutside } from "../shared/existingKeys.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";

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
    const ids = [...ledControls(shot)].filter((id) => wanted === null || wanted.has(id));
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
    const range = { start, end: start + count - 1 };
    const base: Record<ChannelKey, Curve> = { ...shot.base };
    for (const id of ids) {
      const outside = placedKeys(shot, player, controlById(shot.rig, id) as Control, range);
      placeChannels.forEach((channel, k) => {
        const key = channelKey(id, channel);
        base[key] = withOutside(curveFromSamples(start, samples.get(key) as Float64Array), outside[k], range);
      });
    }
    const controls = shot.rig.controls.map((control) =>
      ids.includes(control.id) ? { ...control, channels: [...new Set([...control.channels, ...placeChannels])] } : control,
    );
    const after: Shot = {
      ...shot,
      rig: { ...shot.rig, controls },
      base,
      constraints: shot.constraints.map((one) => (tiesOf(one).writes.some((id) => ids.includes(id)) ? { ...one, on: false } : one)),
    };
    const drift = await measureDriftInPieces(shot, after, shot.range, (share) => context.breathe(0.9 + 0.1 * share));
    const names = ids.map((id) => controlById(shot.rig, id)?.name).join(", ");
    return outcome(shot, after, `Baked the follows of ${names} to keys`, { drift });
  },
};

/** Keys a follower has outside the range, each where it then is: by place channel, null where there are none. */
function placedKeys(shot: Shot, player: Player, control: Control, { start, end }: FrameRange): (Curve | null)[] {
  const curves = placeChannels.map((channel) => shot.base[channelKey(control.id, channel)]).filter((curve) => curve !== undefined);
  const times = unionOfTimes(curves.filter(({ times }) => times.length > 1).map((curve) => curve.times)).filter(
    (time) => time < start || time > end,
  );
  if (times.length === 0) return placeChannels.map(() => null);
  let near = [0, 0, 0, 0, 0, 0];
  const rows = Array.from(times, (time) => {
    player.pose(time);
    near = localValues(player, control, near, scaleOf(player, control.id));
    return near;
  });
  return placeChannels.map((_, k) => curveFromKeys(rows.map((row, n) => makeKey(times[n], row[k], Tangent.linear))));
}

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
