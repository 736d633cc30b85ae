import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { insertKeyOn, setKey } from "../curve/edit.ts";
import { trackOf } from "../curve/track.ts";
import { warpTimes } from "../curve/warpTimes.ts";
import { measureDriftInPieces } from "../drift.ts";
import { KneaderError } from "../errors.ts";
import { attachSlots } from "../figure/attachToCamera.ts";
import { localValues, placeChannels } from "../figure/localValues.ts";
import { makePlayer } from "../figure/player.ts";
import { nodeFrame } from "../figure/timeNode.ts";
import { type ChannelKey, channelKey, channelTitle, type Control, splitChannelKey } from "../model/rig.ts";
import type { FrameRange, Pass, Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";
import { timedKind } from "../passes/kinds.ts";
import { changedBy, passMembers } from "../passes/members.ts";
import { steppingPass } from "../passes/stepping.ts";
import { curveFromSamples, steppedFromSamples } from "./bakeValues.ts";
import type { Operation } from "./operation.ts";
import { outcome } from "./scope.ts";
import { simplify } from "./simplify.ts";

const settings = z.object({
  keys: z
    .enum(["fewest", "existing", "every"])
    .default("fewest")
    .meta({ title: "Keys", labels: { fewest: "Fewest within the tolerance", existing: "On the keys there are", every: "On every frame" } }),
  rotation: z.number().min(0).max(90).default(0.1).meta({ title: "Rotation within", unit: "degrees", max: 5, step: 0.05 }),
  move: z.number().min(0).default(0.001).meta({ title: "Position within", unit: "length", max: 0.1, step: 0.001 }),
});

/** Merge every pass that plays into base motion. */
export const bakePasses: Operation<z.infer<typeof settings>> = {
  id: "bake-passes",
  title: "Bake passes",
  group: "Passes",
  help: "Merges the passes that are on into base motion and takes them off the stack.",
  words: "merge flatten layers collapse base",
  settings,
  async run(shot, _scope, s, context) {
    const playing = activePasses(shot);
    if (playing.length === 0)
      throw new KneaderError("nothing-in-scope", "Bake passes: no pass is on.", "Switch on the passes that should be baked.");
    const riders = ridersOf(shot, playing);
    const touched = [...new Set(playing.flatMap((pass) => changedBy(shot, pass)))];
    const held = touched.find((key) => shot.locked.includes(key));
    if (held !== undefined)
      throw new KneaderError(
        "locked",
        `Bake passes: ${channelTitle(shot.rig, held)} is locked, and a pass changes it.`,
        "Unlock it, or switch the pass off.",
      );
    const frames = { start: Math.floor(shot.range.start), end: Math.ceil(shot.range.end) };
    const player = makePlayer(shot, { free: true });
    const count = frames.end - frames.start + 1;
    const samples = new Map(touched.map((key) => [key, new Float64Array(count)]));
    // Half-way to the next frame shows whether a frame is held.
    const halfway = new Map(steppedChannels(shot, playing, touched).map((key) => [key, new Float64Array(count)]));
    const read = (frame: number, n: number, into: ReadonlyMap<ChannelKey, Float64Array>) => {
      player.readValues(frame);
      for (const [key, values] of into) values[n] = player.values[player.channelIndex.get(key) as number];
      if (riders.length === 0) return;
      player.pose(frame);
      for (const control of riders) {
        const tracks = placeChannels.map((channel) => into.get(channelKey(control.id, channel)));
        const near = tracks.map((track) => (track && n > 0 ? track[n - 1] : 0));
        localValues(player, control, near).forEach((value, k) => {
          if (tracks[k]) tracks[k][n] = value;
        });
      }
    };
    for (let n = 0; n < count; n++) {
      if (n % 64 === 0) await context.breathe((0.4 * n) / count);
      read(frames.start + n, n, samples);
      if (halfway.size > 0) read(frames.start + n + 0.5, n, halfway);
    }
    const base: Record<ChannelKey, Curve> = { ...shot.base };
    for (const [key, values] of samples) {
      const half = halfway.get(key);
      if (half) base[key] = steppedFromSamples(frames.start, values, half);
      else if (s.keys === "existing") base[key] = onExistingKeys(shot, playing, key, values, frames.start);
      else base[key] = curveFromSamples(frames.start, values);
    }
    const kept = shot.passes.filter((pass) => !playing.includes(pass));
    let after: Shot = { ...shot, base, passes: kept };
    if (s.keys === "fewest") {
      const scope = { controls: null, channels: touched, keys: null, range: null, layer: "base" };
      const fit = simplify.settings.parse({ rotation: s.rotation, move: s.move, together: "control" });
      after = (await simplify.run(after, scope, fit, context)).shot;
    }
    const drift = await measureDriftInPieces(shot, after, shot.range, (share) => context.breathe(0.9 + 0.1 * share));
    const names = playing.map((pass) => pass.name).join(", ");
    const wiped = playing
      .filter((pass) => pass.kind === "replaces")
      .map((pass) => `"${pass.name}" replaced what was below it on ${Object.keys(pass.curves).length} channels.`);
    return outcome(shot, after, `Baked ${names} into base motion`, { drift, warnings: wiped });
  },
};

/** The controls that ride along with a camera. */
function ridersOf(shot: Shot, playing: readonly Pass[]): Control[] {
  const slots = attachSlots(shot, playing);
  return shot.rig.controls.filter((_, i) => slots[i] !== undefined);
}

/** The channels that stepping passes hold; not those that ride along, which move with the camera at every frame. */
function steppedChannels(shot: Shot, playing: readonly Pass[], touched: readonly ChannelKey[]): ChannelKey[] {
  const held = new Set(playing.filter((pass) => pass.kind === steppingPass.id).flatMap((pass) => passMembers(shot, pass)));
  const riders = new Set(ridersOf(shot, playing).map(({ id }) => id));
  return touched.filter((key) => held.has(key) && !riders.has(splitChannelKey(key).control));
}

/** A channel's keys with the values it had in the whole: base's own keys where passes now play them, and the passes' keys. */
function onExistingKeys(shot: Shot, playing: readonly Pass[], key: ChannelKey, values: Float64Array, start: number): Curve {
  let curve = shot.base[key] ?? curveFromSamples(start, values.slice(0, 1));
  let times = new Set<number>(curve.times);
  for (const pass of playing) {
    const read = timedKind(pass.kind)?.reader(pass, shot)(key);
    if (!read) for (const time of pass.curves[key]?.times ?? []) times.add(time);
    else if (passMembers(shot, pass).includes(key)) {
      const node = { pass, weight: trackOf(pass.weight), read };
      const played = (time: number) => Math.round(frameThatPlays(node, time, shot.range));
      curve = warpTimes(curve, played);
      times = new Set([...times].map(played));
    }
  }
  for (const time of times) {
    const at = Math.min(start + values.length - 1, Math.max(start, Math.round(time)));
    curve = setKey(insertKeyOn(curve, at), at, values[at - start]);
  }
  return curve;
}

/** The first frame at which a pass plays a frame of what is below it, by halving; a warp never runs backward. */
function frameThatPlays(node: Parameters<typeof nodeFrame>[0], time: number, range: FrameRange): number {
  let low = Math.min(time, range.start) - 1;
  let high = Math.max(time, range.end) + 1;
  while (high - low > 1e-4) {
    const middle = (low + high) / 2;
    if (nodeFrame(node, middle) < time - 1e-6) low = middle;
    else high = middle;
  }
  return high;
}
