import { z } from "zod";
import { type Curve, keyAt, keyOn, keysOf, Tangent, type TangentKind } from "../../curve/curve.ts";
import { insertKeyOn } from "../../curve/edit.ts";
import { openRounds } from "../../curve/loop.ts";
import { curveKeeping } from "../../curve/make.ts";
import type { Operation } from "../operation.ts";
import { holdLength, posesThere } from "../poses/gapAt.ts";
import { retime } from "./retime.ts";
import { needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

/** Frames of a hold where there is no gap to go by. */
const USUAL = 8;

const settings = z.object({
  at: z.number().int().default(1).meta({ title: "Hold the pose at", unit: "frame", step: 1 }),
  frames: z.number().int().min(1).max(100000).default(USUAL).meta({ title: "For", unit: "frames", max: 60, step: 1 }),
});

/** Hold a pose: a copy of it after it, everything later moved along. */
export const insertHold: Operation<z.infer<typeof settings>> = {
  id: "insert-hold",
  title: "Insert a hold",
  group: "Timing",
  help: "Holds the pose of a frame for some frames; the motion before stays, and everything later moves along as it is.",
  guide: {
    use: "Lets a pose be read: it stays for some frames, and everything later moves on.",
    watch: "Nothing moves in a hold, not even a tail. Lay follow-through or an idle over it.",
  },
  words: "pause wait freeze moving insert copy pose ripple longer",
  suits: ["picked poses"],
  leaves: ["range"],
  settings,
  situation(at) {
    const frame = at.pickedPoses?.[0] ?? Math.round(at.frame);
    return { at: frame, frames: holdLength(posesThere(at), frame, USUAL) };
  },
  async run(shot, scope, { at, frames }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Insert a hold");
    const after = retime(
      shot,
      scope,
      channels,
      (curve) => holdAt(curve, at, frames),
      (frame) => (frame >= at ? frame + frames : frame),
    );
    return outcome(shot, after, `Held the pose of frame ${at} for ${countedWord(frames, "frame")}`);
  },
};

/**
 * A copy of the key at a frame (one is put there when there is none), `frames` later, the curve level in between and
 * every later key moved by as much: what comes before the hold and what comes after it plays as it did. Outside its
 * keys a curve that holds only moves.
 */
export function holdAt(given: Curve, at: number, frames: number): Curve {
  const curve = openRounds(given, at);
  const last = curve.times.length - 1;
  const isBefore = at < curve.times[0] - 1e-6;
  const isAfter = at > curve.times[last] + 1e-6;
  const run = isBefore ? curve.runIn : curve.runOut;
  if (isAfter && run.kind !== "straight") return curve;
  if (isBefore && run.kind !== "straight") return { ...curve, times: curve.times.map((time) => time + frames) };
  const keyed = insertKeyOn(curve, at);
  const i = keyOn(keyed, at);
  const key = keyAt(keyed, i);
  // Auto and linear sides are level by themselves between equal values; a stepped one holds anyway.
  const level = (kind: TangentKind) => (kind === Tangent.smooth || kind === Tangent.free ? Tangent.flat : kind);
  const held = { ...key, slopeOut: 0, kindOut: level(key.kindOut) };
  const copy = { ...key, time: key.time + frames, slopeIn: 0, kindIn: key.kindIn === Tangent.stepped ? Tangent.flat : level(key.kindIn) };
  const keys = keysOf(keyed);
  for (let k = i + 1; k < keys.length; k++) keys[k].time += frames;
  keys.splice(i, 1, held, copy);
  return curveKeeping(keys, keyed);
}
