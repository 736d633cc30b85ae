import { type Curve, keyOn, keysOf, Tangent } from "../../curve/curve.ts";
import { insertKeyOn } from "../../curve/edit.ts";
import { curveFrom, curveFromKeys } from "../../curve/make.ts";
import { freedKey } from "../../curve/turn.ts";
import { type ChannelKey, restValue, splitChannelKey } from "../../model/rig.ts";
import { BASE, type FrameRange, layerCurves, type Shot } from "../../model/shot.ts";
import { withFirstCurves } from "./firstCurves.ts";
import { changeCurves } from "./scope.ts";

/**
 * Keys at both ends of a span, on channels of base motion or a keyed pass, between which it can be keyed without any
 * change outside: the layer stays what it is now at the ends and beyond, slopes included.
 */
export function withLockedSpan(given: Shot, layer: string, channels: readonly ChannelKey[], span: FrameRange): Shot {
  const shot = withFirstCurves(given, layer, channels);
  const curves = layerCurves(shot, layer);
  const changed: Record<ChannelKey, Curve> = {};
  for (const key of channels) {
    if (shot.locked.includes(key)) continue;
    const still = layer === BASE ? restValue(splitChannelKey(key).channel) : 0;
    const ends: [number, number][] = [
      [span.start, still],
      [span.end, still],
    ];
    changed[key] = curves[key] ? heldAt(curves[key], span) : curveFrom(ends, Tangent.flat);
  }
  return changeCurves(shot, layer, changed);
}

/** The same curve with keys at both ends of a span; no key between them can change a slope at the ends or outside. */
function heldAt(curve: Curve, { start, end }: FrameRange): Curve {
  const keyed = insertKeyOn(insertKeyOn(curve, start), end);
  const keys = keysOf(keyed);
  const [first, last] = [keyOn(keyed, start), keyOn(keyed, end)];
  for (const i of [first, last]) {
    const { kindIn, kindOut } = keys[i];
    keys[i] = {
      ...keys[i],
      kindIn: kindIn === Tangent.stepped ? kindIn : Tangent.free,
      kindOut: kindOut === Tangent.stepped ? kindOut : Tangent.free,
    };
  }
  // The slope of an end of the curve looks two keys ahead, and so may look past the span's end.
  for (const i of [first - 1, last + 1]) if (keys[i]) keys[i] = freedKey(keys[i]);
  return curveFromKeys(keys, keyed);
}
