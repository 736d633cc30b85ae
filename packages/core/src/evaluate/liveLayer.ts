import { type Curve, keysOf, makeKey, Tangent } from "../curve/curve.ts";
import { constantCurve, curveFromKeys } from "../curve/make.ts";
import { type ChannelKey, restValue, splitChannelKey } from "../model/rig.ts";
import { layerCurves, type Shot, withLayerCurves } from "../model/shot.ts";

/** Two frames nearer than this are one. */
const ONE_FRAME = 1e-6;

/**
 * Values that come in while a control is dragged or a device is heard: a layer's own values on some channels, frame by
 * frame. A player that was given it plays them over what the layer has, so that no new shot is made per sample; once all
 * is in, they become curves.
 */
export interface LiveLayer {
  /** "base" or the id of a pass. */
  readonly layer: string;
  readonly keys: readonly ChannelKey[];
  /** Put the values of a frame, in the order of the keys: at the end, or in place of those that are there. */
  put(frame: number, values: ArrayLike<number>): void;
  /** The value of a key, by its number, at a frame: between two that came in straight; NaN before the first and after the last. */
  read(n: number, frame: number): number;
  /** The frames that came in, rising. */
  frames(): readonly number[];
}

export function makeLiveLayer(layer: string, keys: readonly ChannelKey[]): LiveLayer {
  const times: number[] = [];
  const columns: number[][] = keys.map(() => []);
  /** Where a frame stands or would stand. */
  const placeOf = (frame: number): number => {
    let [low, high] = [0, times.length];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (times[middle] < frame - ONE_FRAME) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  return {
    layer,
    keys,
    put(frame, values) {
      const at = placeOf(frame);
      const isThere = at < times.length && Math.abs(times[at] - frame) <= ONE_FRAME;
      times.splice(at, isThere ? 1 : 0, frame);
      columns.forEach((column, n) => {
        column.splice(at, isThere ? 1 : 0, values[n]);
      });
    },
    read(n, frame) {
      const at = placeOf(frame);
      const column = columns[n];
      if (at < times.length && Math.abs(times[at] - frame) <= ONE_FRAME) return column[at];
      if (at === 0 || at === times.length) return Number.NaN;
      const share = (frame - times[at - 1]) / (times[at] - times[at - 1]);
      return column[at - 1] + (column[at] - column[at - 1]) * share;
    },
    frames: () => times,
  };
}

/** The shot with a curve on each channel of a live layer, so that a player has room for it; where all have one, the very shot. */
export function withRoomFor(shot: Shot, { layer, keys }: Pick<LiveLayer, "layer" | "keys">): Shot {
  const curves = layerCurves(shot, layer);
  const missing = keys.filter((key) => !curves[key]);
  if (missing.length === 0) return shot;
  const made = missing.map((key) => [key, constantCurve(restValue(splitChannelKey(key).channel), shot.range.start)] as const);
  return withLayerCurves(shot, layer, { ...curves, ...Object.fromEntries(made) });
}

/** What came in as curves: a linear key at each of its frames in place of what the layer had over that span. */
export function liveAsCurves(shot: Shot, live: LiveLayer): Shot {
  const frames = live.frames();
  if (frames.length === 0) return shot;
  const [first, last] = [frames[0], frames[frames.length - 1]];
  const curves: Record<ChannelKey, Curve> = { ...layerCurves(shot, live.layer) };
  live.keys.forEach((key, n) => {
    const before = curves[key];
    const outside = before ? keysOf(before).filter(({ time }) => time < first - ONE_FRAME || time > last + ONE_FRAME) : [];
    const made = frames.map((frame) => makeKey(frame, live.read(n, frame), Tangent.linear));
    curves[key] = curveFromKeys([...outside, ...made], before);
  });
  return withLayerCurves(shot, live.layer, curves);
}
