import { z } from "zod";
import { type Curve, makeKey, Tangent } from "../../curve/curve.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { unionOfTimes } from "../../curve/timeRows.ts";
import { bakeMotion, inPieces } from "../../evaluate/bakeMotion.ts";
import { measureDriftInPieces } from "../../evaluate/drift.ts";
import { KneaderError } from "../../errors.ts";
import { placeChannels } from "../../figure/localValues.ts";
import { makePlayer, type Player } from "../../evaluate/makePlayer.ts";
import { ledControls, tiesOf } from "../../constraints/ledControls.ts";
import { activePasses } from "../../passes/active.ts";
import { changedBy } from "../../passes/members.ts";
import { type ChannelKey, channelKey, type Control, controlById } from "../../model/rig.ts";
import type { FrameRange, Shot } from "../../model/shot.ts";
import { curveFromSamples } from "../../curve/bakeValues.ts";
import { withOutside } from "../shared/existingKeys.ts";
import type { Operation } from "../operation.ts";
import { controlsMeant, outcome } from "../shared/scope.ts";

const settings = z.object({});

/** Turn what follows give a control into plain keys on it. */
export const bakeFollow: Operation<z.infer<typeof settings>> = {
  id: "bake-follow",
  title: "Bake follow",
  group: "Spaces",
  help: "Gives every control in scope that follows another plain keys on each frame, then switches its follows off.",
  guide: {
    use: "Gives a held thing keys of its own in place of what it follows.",
    watch: "Keys stand on every frame afterwards. The picture is the same within the difference that is named.",
  },
  words: "constraint parent attach hand prop space keys aim pin glue world hold detach release",
  leaves: ["range", "layer"],
  settings,
  needs: ["something that follows"],
  async run(shot, scope, _settings, context) {
    const wanted = controlsMeant(shot, scope);
    const ids = [...ledControls(shot)].filter((id) => wanted.has(id));
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
    const controls = ids.map((id) => controlById(shot.rig, id) as Control);
    const frames = Array.from({ length: count }, (_, n) => start + n);
    const samples = await inPieces(bakeMotion(player, controls, frames), (share) => context.breathe(0.5 * share));
    const range = { start, end: start + count - 1 };
    const base: Record<ChannelKey, Curve> = { ...shot.base };
    for (const control of controls) {
      const outside = await placedKeys(shot, player, control, range);
      for (const channel of placeChannels) {
        const key = channelKey(control.id, channel);
        base[key] = withOutside(curveFromSamples(start, samples.get(key) as Float64Array), outside.get(key) ?? null, range);
      }
    }
    const widened = shot.rig.controls.map((control) =>
      ids.includes(control.id) ? { ...control, channels: [...new Set([...control.channels, ...placeChannels])] } : control,
    );
    const after: Shot = {
      ...shot,
      rig: { ...shot.rig, controls: widened },
      base,
      constraints: shot.constraints.map((one) => (tiesOf(one).writes.some((id) => ids.includes(id)) ? { ...one, on: false } : one)),
    };
    const drift = await measureDriftInPieces(shot, after, shot.range, (share) => context.breathe(0.9 + 0.1 * share));
    const names = ids.map((id) => controlById(shot.rig, id)?.name).join(", ");
    return outcome(shot, after, `Baked the follows of ${names} to keys`, { drift });
  },
};

/** Keys a follower has outside the range, each where it then is, by channel. */
async function placedKeys(shot: Shot, player: Player, control: Control, { start, end }: FrameRange): Promise<Map<ChannelKey, Curve>> {
  const curves = placeChannels.map((channel) => shot.base[channelKey(control.id, channel)]).filter((curve) => curve !== undefined);
  const times = unionOfTimes(curves.filter(({ times }) => times.length > 1).map((curve) => curve.times)).filter(
    (time) => time < start || time > end,
  );
  if (times.length === 0) return new Map();
  const columns = await inPieces(bakeMotion(player, [control], times), () => undefined);
  return new Map(
    [...columns].map(([key, values]) => [key, curveFromKeys(Array.from(times, (time, n) => makeKey(time, values[n], Tangent.linear)))]),
  );
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
