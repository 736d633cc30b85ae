import { type Curve, keyBefore, makeKey, Tangent, type TangentKind } from "../../curve/curve.ts";
import { setKey } from "../../curve/edit.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { mapRun, repeats } from "../../curve/runOn.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot, withLayerCurves } from "../../model/shot.ts";
import { withFirstCurves } from "./firstCurves.ts";

/**
 * Key channels of a layer at a frame with the layer's own values. In a round the key goes to the frame which that
 * round plays again, so that a cycle stays one. A channel that had no curve gets one key, which holds for the whole
 * shot; in a replacing pass it gets what is below, and the key on that. Locked channels are left alone.
 */
export function keyChannels(given: Shot, layer: string, frame: number, values: Readonly<Record<ChannelKey, number>>): Shot {
  const shot = withFirstCurves(given, layer, Object.keys(values));
  const curves = { ...layerCurves(shot, layer) };
  for (const [key, value] of Object.entries(values)) {
    if (shot.locked.includes(key)) continue;
    const curve = curves[key];
    if (!curve) {
      curves[key] = curveFromKeys([makeKey(frame, value, Tangent.auto)]);
      continue;
    }
    const real = realPlace(curve, frame);
    curves[key] = setKey(curve, real.time, value - real.offset, kindAt(curve, real.time));
  }
  return withLayerCurves(shot, layer, curves);
}

/** The frame a round plays again, and what is added to it there; the frame itself where the curve does not repeat. */
export function realPlace(curve: Curve, frame: number): { time: number; offset: number } {
  const { times, runIn, runOut } = curve;
  const last = times[times.length - 1];
  const span = last - times[0];
  const away = Math.max(times[0] - frame, frame - last);
  const run = frame < times[0] ? runIn : runOut;
  const isRound = span > 0 && away > 1e-6 && repeats(run) && (run.rounds === 0 || away <= run.rounds * span + 1e-6);
  return isRound ? mapRun(curve, frame) : { time: frame, offset: 0 };
}

/** What to tell when keys at a frame go to the frames they repeat: "Frame 37 repeats frame 13: …"; nothing where none does. */
export function sayRealKeys(shot: Shot, layer: string, frame: number, keys: readonly ChannelKey[]): string[] {
  const curves = layerCurves(shot, layer);
  const real = keys.flatMap((key) => {
    const time = curves[key] && !shot.locked.includes(key) ? realPlace(curves[key], frame).time : frame;
    return time === frame ? [] : [time];
  });
  if (real.length === 0) return [];
  const frames = [...new Set(real.map((time) => Math.round(time * 100) / 100))].sort((a, b) => a - b);
  const what = frames.length === 1 ? `frame ${frames[0]}` : `frames ${frames.slice(0, 3).join(", ")}${frames.length > 3 ? " …" : ""}`;
  return [`Frame ${frame} repeats ${what}: ${real.length === 1 ? "the key goes" : "the keys go"} there, and every round follows.`];
}

/** A key put among stepped ones is stepped too. */
function kindAt({ times, kindOut }: Curve, frame: number): TangentKind {
  const stepped = kindOut[Math.max(0, keyBefore(times, frame))] === Tangent.stepped;
  return stepped ? Tangent.stepped : Tangent.auto;
}
