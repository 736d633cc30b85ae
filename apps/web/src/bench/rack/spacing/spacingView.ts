import {
  channelTitle,
  channelUnit,
  type ChannelKey,
  type Curve,
  controlById,
  sampleCurve,
  type Shot,
  splitChannelKey,
} from "@kneader/core";
import { playerFor } from "../../view/players.ts";

/** How fast something goes: the change from each frame to the next. */
export interface Spacing {
  readonly title: string;
  /** Frame of the first value. */
  readonly start: number;
  /** Change from frame start + i to the next one, never negative. */
  readonly steps: Float64Array;
  readonly unit: "mm" | "units" | "°" | "%" | "";
}

/** The way a control goes through space from frame to frame, in millimetres where the shot knows its unit. */
export function placeSpacing(shot: Shot, control: string): Spacing | null {
  const player = playerFor(shot);
  const at = player.controlIndex.get(control);
  if (at === undefined) return null;
  const { start, end } = shot.range;
  const scale = shot.unitMetres === null ? 1 : shot.unitMetres * 1000;
  const o = at * 16 + 12;
  const steps = new Float64Array(Math.max(0, end - start));
  let [x, y, z] = [0, 0, 0];
  for (let frame = start; frame <= end; frame++) {
    player.pose(frame);
    const [nx, ny, nz] = [player.worlds[o], player.worlds[o + 1], player.worlds[o + 2]];
    if (frame > start) steps[frame - start - 1] = Math.hypot(nx - x, ny - y, nz - z) * scale;
    [x, y, z] = [nx, ny, nz];
  }
  return { title: controlById(shot.rig, control)?.name ?? control, start, steps, unit: shot.unitMetres === null ? "units" : "mm" };
}

/** The change of one curve from frame to frame. */
export function curveSpacing(shot: Shot, key: ChannelKey, curve: Curve): Spacing {
  const { start, end } = shot.range;
  const kind = channelUnit(splitChannelKey(key).channel);
  const scale = kind === "length" && shot.unitMetres !== null ? shot.unitMetres * 1000 : 1;
  const steps = Float64Array.from(
    { length: Math.max(0, end - start) },
    (_, i) => Math.abs(sampleCurve(curve, start + i + 1) - sampleCurve(curve, start + i)) * scale,
  );
  const unit = kind === "degrees" ? "°" : kind === "percent" ? "%" : kind === "length" ? (shot.unitMetres === null ? "units" : "mm") : "";
  return { title: channelTitle(shot.rig, key), start, steps, unit };
}

/** Does it stand still most of the time and jump in between, as stepped poses do? */
export function isStepped({ steps }: Spacing): boolean {
  const still = steps.filter((step) => step === 0).length;
  return still > 0.6 * steps.length && still < steps.length;
}
