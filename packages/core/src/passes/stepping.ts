import { z } from "zod";
import { keyBefore, keysOf } from "../curve/curve.ts";
import { curveFromKeys } from "../curve/make.ts";
import { unionOfTimes } from "../curve/timeRows.ts";
import { channelKey, controlById } from "../model/rig.ts";
import type { Pass, Shot } from "../model/shot.ts";
import type { TimedPassKind } from "./passKind.ts";

const NAME = "Stepping";

/** Under this key stands, in `pass.curves`, whether the control that rides rides along with the camera (1) or not (0). */
export const STEPPING_RIDES = channelKey(NAME, "rides");

const settings = z.object({
  /** How long each frame is held, over and over: [2] is twos, [2, 2, 3] twos then a three. */
  pattern: z.array(z.number().int().min(1).max(1000)).min(1).max(64).default([2]),
  /** The frames that are shown, each until the next one; null when the pattern says. */
  frames: z.array(z.number()).min(1).nullable().default(null),
  /** The control on whose keys in base motion the figure is seen, wherever those go; without any, `frames` as they were last. */
  follows: z.string().nullable().default(null),
  /** A control that keeps its place in the picture of a camera while a frame is held. */
  rides: z.object({ control: z.string(), camera: z.string() }).nullable().default(null),
});

export type SteppingSettings = z.infer<typeof settings>;

/** The settings of a stepping pass, with defaults for what a file leaves out. */
export function steppingSettings(pass: Pass): SteppingSettings {
  const read = settings.safeParse(pass.settings);
  return read.success ? read.data : settings.parse({});
}

/** The whole frames at which a control has keys in base motion, rising. */
export function keyFrames({ rig, base }: Pick<Shot, "rig" | "base">, control: string): number[] {
  const keys = controlById(rig, control)?.channels.map((channel) => channelKey(control, channel)) ?? [];
  const times = unionOfTimes(keys.filter((key) => key in base).map((key) => base[key].times));
  return [...new Set([...times].map(Math.round))];
}

/** Shows only some frames of what is below, each held until the next. */
export const steppingPass: TimedPassKind = {
  id: "stepping",
  title: "Stepping",
  help: "Shows every second, third … frame of the motion below and holds it; the curves stay smooth.",
  reads: "time",
  madeBy: "stepping",
  own: { name: NAME, channels: ["rides"] },
  settings,
  reader(pass, shot) {
    const { pattern, frames, follows } = steppingSettings(pass);
    if (frames !== null) {
      const followed = follows === null ? [] : keyFrames(shot, follows);
      const shown = Float64Array.from(followed.length > 0 ? followed : frames).sort();
      const read = (frame: number) => {
        const at = keyBefore(shown, frame);
        return at < 0 ? frame : shown[at];
      };
      return () => read;
    }
    const start = pass.range?.start ?? shot.range.start;
    const length = pattern.reduce((sum, held) => sum + held, 0);
    const read = (frame: number) => {
      const round = Math.floor((frame - start) / length);
      let shown = start + round * length;
      for (let i = 0; i + 1 < pattern.length && frame >= shown + pattern[i]; i++) shown += pattern[i];
      return shown;
    };
    return () => read;
  },
  retimed(pass, to) {
    const { frames } = steppingSettings(pass);
    const curves = Object.fromEntries(
      Object.entries(pass.curves).map(([key, curve]) => [
        key,
        curveFromKeys(
          keysOf(curve).map((k) => ({ ...k, time: to(k.time) })),
          curve,
        ),
      ]),
    );
    if (frames === null) return { ...pass, curves };
    return { ...pass, curves, settings: { ...pass.settings, frames: [...new Set(frames.map((frame) => Math.round(to(frame))))] } };
  },
  checked: (pass) => pass,
};
