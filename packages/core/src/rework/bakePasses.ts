import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { insertKeyOn, setKey } from "../curve/edit.ts";
import { measureDriftInPieces } from "../drift.ts";
import { KneaderError } from "../errors.ts";
import { makePlayer } from "../figure/player.ts";
import { activePasses } from "../passes/active.ts";
import { type ChannelKey, rotateChannels, splitChannelKey, channelKey, channelTitle } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { curveFromSamples } from "./bakeValues.ts";
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
    const touched = touchedChannels(
      shot,
      playing.flatMap((pass) => Object.keys(pass.curves).map((key) => ({ key, whole: pass.compose === "rotation" }))),
    );
    const held = touched.find((key) => shot.locked.includes(key));
    if (held !== undefined)
      throw new KneaderError(
        "locked",
        `Bake passes: ${channelTitle(shot.rig, held)} is locked, and a pass changes it.`,
        "Unlock it, or switch the pass off.",
      );
    const frames = { start: Math.floor(shot.range.start), end: Math.ceil(shot.range.end) };
    const player = makePlayer(shot, { free: true });
    const samples = new Map(touched.map((key) => [key, new Float64Array(frames.end - frames.start + 1)]));
    for (let frame = frames.start; frame <= frames.end; frame++) {
      if (frame % 64 === 0) await context.breathe((0.4 * (frame - frames.start)) / (frames.end - frames.start + 1));
      player.readValues(frame);
      for (const [key, values] of samples) values[frame - frames.start] = player.values[player.channelIndex.get(key) as number];
    }
    const base: Record<ChannelKey, Curve> = { ...shot.base };
    for (const [key, values] of samples)
      base[key] = s.keys === "existing" ? onExistingKeys(shot, key, values, frames.start) : curveFromSamples(frames.start, values);
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

/** Channels that passes change; composing as rotations changes all three angles of a control. */
function touchedChannels(shot: Shot, keyed: readonly { key: ChannelKey; whole: boolean }[]): ChannelKey[] {
  const touched = new Set<ChannelKey>();
  for (const { key, whole } of keyed) {
    const { control, channel } = splitChannelKey(key);
    if (whole && channel.startsWith("rotate")) for (const other of rotateChannels) touched.add(channelKey(control, other));
    else touched.add(key);
  }
  return [...touched].filter((key) => shot.rig.controls.some((control) => control.id === splitChannelKey(key).control));
}

/** Base's own keys and the passes' keys of a channel, each with the value it had in the whole. */
function onExistingKeys(shot: Shot, key: ChannelKey, values: Float64Array, start: number): Curve {
  const times = new Set<number>();
  for (const curves of [shot.base, ...shot.passes.map((pass) => pass.curves)])
    for (const time of curves[key]?.times ?? []) times.add(Math.round(time));
  const inside = [...times].map((time) => Math.min(start + values.length - 1, Math.max(start, time)));
  let curve = shot.base[key] ?? curveFromSamples(start, values.slice(0, 1));
  for (const time of inside) curve = setKey(insertKeyOn(curve, time), time, values[time - start]);
  return curve;
}
