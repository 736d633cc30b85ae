import { BASE, type ChannelKey, channelKey, type Curve, isScenery, layerCurves, ownControl, type Shot } from "@kneader/core";

/** At most so many curves are drawn at once when none is picked one by one. */
export const MOST_CURVES = 18;

/**
 * The channels the curve tray shows: those picked, else all of the picked controls, else the rotations
 * of the control that turns most (there is always something worth looking at). Hidden ones are left out;
 * of very many only the first ones are drawn unless `every` is asked for.
 */
export function shownChannels(
  shot: Shot,
  layer: string,
  controls: readonly string[],
  channels: readonly ChannelKey[],
  hidden: ReadonlySet<ChannelKey>,
  every = false,
): ChannelKey[] {
  const curves = layerCurves(shot, layer);
  if (channels.length > 0 && !ownControl(shot, layer)) return channels.filter((key) => key in curves && !hidden.has(key));
  const setting = ownControl(shot, layer);
  if (setting) return setting.channels.map((channel) => channelKey(setting.id, channel)).filter((key) => key in curves && !hidden.has(key));
  if (controls.length > 0) {
    const own = controls.flatMap(
      (id) => shot.rig.controls.find((control) => control.id === id)?.channels.map((channel) => channelKey(id, channel)) ?? [],
    );
    return own.filter((key) => key in curves && !hidden.has(key)).slice(0, every ? undefined : MOST_CURVES);
  }
  return liveliest(shot, layer, curves).filter((key) => !hidden.has(key));
}

const kept = new WeakMap<object, ChannelKey[]>();
const reaches = new WeakMap<Curve, number>();

/** From the lowest to the highest key of a curve; of a long shot mostly the same curves are asked again and again. */
function reachOf(curve: Curve): number {
  const known = reaches.get(curve);
  if (known !== undefined) return known;
  let low = curve.values[0];
  let high = low;
  for (const value of curve.values) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  reaches.set(curve, high - low);
  return high - low;
}

/** All keyed channels of the control of the figure whose curves have the most keys. */
function movesMost(shot: Shot, curves: Readonly<Record<ChannelKey, Curve>>): ChannelKey[] {
  let best: ChannelKey[] = [];
  let most = 0;
  for (const control of shot.rig.controls) {
    if (isScenery(control)) continue;
    const keys = control.channels.map((channel) => channelKey(control.id, channel)).filter((key) => key in curves);
    const count = keys.reduce((sum, key) => sum + curves[key].times.length, 0);
    if (count > most) [best, most] = [keys, count];
  }
  return best;
}

function liveliest(shot: Shot, layer: string, curves: Readonly<Record<ChannelKey, Curve>>): ChannelKey[] {
  const known = kept.get(curves);
  if (known) return known;
  let best: ChannelKey[] = [];
  let most = -1;
  for (const control of shot.rig.controls) {
    if (isScenery(control) || (layer === BASE && control.parent === null)) continue;
    const keys = control.channels
      .filter((channel) => channel.startsWith("rotate"))
      .map((channel) => channelKey(control.id, channel))
      .filter((key) => key in curves);
    let total = 0;
    for (const key of keys) total += Math.min(180, reachOf(curves[key]));
    const liking = control.part === "tail" || control.part === "head" ? 1.4 : 1;
    if (keys.length > 0 && total * liking > most) {
      most = total * liking;
      best = keys;
    }
  }
  // Where nothing turns but moves, or has shapes, that is shown: what has keys is not told to have none.
  if (best.length === 0) best = movesMost(shot, curves);
  kept.set(curves, best);
  return best;
}
