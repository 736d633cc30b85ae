import { z } from "zod";
import { type Curve, keyAt, keyBefore, keyOn, keysOf, Tangent } from "../curve/curve.ts";
import { insertKeyOn } from "../curve/edit.ts";
import { curveFromKeys } from "../curve/make.ts";
import type { Operation } from "./operation.ts";
import { retime } from "./retime.ts";
import { needSomething, outcome, scopedChannels } from "./scope.ts";

const settings = z.object({
  at: z.number().int().default(1).meta({ title: "Hold the pose at", unit: "frame", step: 1 }),
  frames: z.number().int().min(1).max(100000).default(8).meta({ title: "For", unit: "frames", max: 60, step: 1 }),
});

/** Hold a pose: a copy of it after it, everything later moved along. */
export const insertHold: Operation<z.infer<typeof settings>> = {
  id: "insert-hold",
  title: "Hold",
  group: "Timing",
  help: "Holds the pose of a frame for some frames; everything later moves along.",
  words: "pause wait freeze moving insert copy pose ripple",
  settings,
  async run(shot, scope, { at, frames }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Hold");
    const after = retime(
      shot,
      scope,
      channels,
      (curve) => holdAt(curve, at, frames),
      (frame) => (frame >= at ? frame + frames : frame),
    );
    return outcome(shot, after, `Held the pose of frame ${at} for ${frames} frames`);
  },
};

/**
 * A copy of the key at a frame (one is put there when there is none), `frames` later, the curve level in
 * between and every later key moved by as much. Outside its keys a curve only moves.
 */
export function holdAt(curve: Curve, at: number, frames: number): Curve {
  const last = curve.times.length - 1;
  const shifted = (keys: ReturnType<typeof keysOf>) =>
    keys.map((key) => (key.time > at + 1e-6 ? { ...key, time: key.time + frames } : key));
  if (at < curve.times[0] - 1e-6 || at > curve.times[last] + 1e-6) return curveFromKeys(shifted(keysOf(curve)), curve);
  const keyed = insertKeyOn(curve, at);
  const i = keyOn(keyed, at) >= 0 ? keyOn(keyed, at) : keyBefore(keyed.times, at);
  const key = keyAt(keyed, i);
  // Auto and linear sides are level by themselves between equal values; a stepped one holds anyway.
  const level = (kind: typeof key.kindOut) => (kind === Tangent.smooth || kind === Tangent.free ? Tangent.flat : kind);
  // A smooth side would lean over the hold; auto comes to rest at it and leaves it from rest.
  const resting = (kind: typeof key.kindOut) => (kind === Tangent.smooth ? Tangent.auto : kind);
  const held = { ...key, kindIn: resting(key.kindIn), kindOut: level(key.kindOut) };
  const copy = { ...key, time: key.time + frames, kindIn: level(key.kindIn), kindOut: resting(key.kindOut) };
  const others = keysOf(keyed).filter((_, k) => k !== i);
  return curveFromKeys([...shifted(others), held, copy], curve);
}
