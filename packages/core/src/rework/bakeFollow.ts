import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { measureDriftInPieces } from "../drift.ts";
import { KneaderError } from "../errors.ts";
import { invertAffine, multiplyAffine, orthonormalise } from "../figure/matrix.ts";
import { makePlayer } from "../figure/player.ts";
import { activePasses } from "../passes/active.ts";
import { DEG, eulerFromMatrix, matrixFromQuat, nearestEuler } from "../figure/rotation.ts";
import { type ChannelKey, channelKey, controlById, moveChannels, rotateChannels } from "../model/rig.ts";
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
    const channels = [...moveChannels, ...rotateChannels];
    const samples = new Map<ChannelKey, Float64Array>(
      ids.flatMap((id) => channels.map((channel) => [channelKey(id, channel), new Float64Array(count)] as const)),
    );
    const local = new Float64Array(16);
    const scratch = new Float64Array(16);
    for (let n = 0; n < count; n++) {
      if (n % 64 === 63) await context.breathe((0.5 * n) / count);
      player.pose(start + n);
      for (const id of ids) writeLocal(id, n);
    }
    const base: Record<ChannelKey, Curve> = { ...shot.base };
    for (const [key, values] of samples) base[key] = curveFromSamples(start, values);
    const controls = shot.rig.controls.map((control) =>
      ids.includes(control.id) ? { ...control, channels: [...new Set([...control.channels, ...channels])] } : control,
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

    /** The control's place in its parent, as channel values, at frame number n. */
    function writeLocal(id: string, n: number): void {
      const i = player.controlIndex.get(id) as number;
      const control = shot.rig.controls[i];
      if (control.parent === null) local.set(player.worlds.subarray(i * 16, i * 16 + 16));
      else {
        invertAffine(scratch, 0, player.worlds, (player.controlIndex.get(control.parent) as number) * 16);
        multiplyAffine(local, 0, scratch, 0, player.worlds, i * 16);
      }
      moveChannels.forEach((channel, k) => {
        (samples.get(channelKey(id, channel)) as Float64Array)[n] = local[12 + k] - control.rest[k];
      });
      orthonormalise(scratch, 0, local, 0);
      if (control.restTurn[3] !== 1) {
        const [x, y, z, w] = control.restTurn;
        const rest = new Float64Array(16);
        matrixFromQuat(rest, 0, 4, [-x, -y, -z, w], 0);
        multiplyAffine(scratch, 0, rest, 0, scratch.slice(), 0);
      }
      const euler = [0, 0, 0];
      eulerFromMatrix(euler, 0, scratch, 0, 4, control.order);
      const tracks = rotateChannels.map((channel) => samples.get(channelKey(id, channel)) as Float64Array);
      const near = tracks.map((track) => (n > 0 ? track[n - 1] : 0));
      nearestEuler(
        euler.map((angle) => angle / DEG),
        near,
        control.order,
      ).forEach((angle, axis) => {
        tracks[axis][n] = angle;
      });
    }
  },
};

/** A pass that moves the follower would come on top of the baked keys a second time. */
function refusePasses(shot: Shot, id: string): void {
  const pass = activePasses(shot).find((p) => Object.keys(p.curves).some((key) => key.startsWith(`${id}.`)));
  if (pass)
    throw new KneaderError(
      "bad-setting",
      `Bake follow: pass "${pass.name}" also moves ${controlById(shot.rig, id)?.name}.`,
      "Bake or switch off that pass first.",
    );
}
