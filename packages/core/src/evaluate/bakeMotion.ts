import { localValues, placeChannels, scaleOf } from "../figure/localValues.ts";
import type { Player } from "../figure/player.ts";
import { type ChannelKey, type Control, channelKey } from "../model/rig.ts";

type Columns = ReadonlyMap<ChannelKey, Float64Array>;

/**
 * Write the move and rotate values with which controls, under what they hang on, stand where a posed player has them,
 * into row `n` of their columns; channels without a column are passed over. Angles are near those of the row before.
 */
export function bakeRow(player: Player, controls: readonly Control[], n: number, into: Columns): void {
  for (const control of controls) {
    const tracks = placeChannels.map((channel) => into.get(channelKey(control.id, channel)));
    const near = tracks.map((track) => (track && n > 0 ? track[n - 1] : 0));
    localValues(player, control, near, scaleOf(player, control.id)).forEach((value, k) => {
      const track = tracks[k];
      if (track) track[n] = value;
    });
  }
}

/** The motion of controls in the world, turned into values of their own channels at given frames. Yields the share done. */
export function* bakeMotion(
  player: Player,
  controls: readonly Control[],
  frames: ArrayLike<number>,
): Generator<number, Map<ChannelKey, Float64Array>> {
  const keys = controls.flatMap(({ id }) => placeChannels.map((channel) => channelKey(id, channel)));
  const columns = new Map(keys.map((key) => [key, new Float64Array(frames.length)]));
  for (let n = 0; n < frames.length; n++) {
    player.pose(frames[n]);
    bakeRow(player, controls, n, columns);
    if (n % 64 === 63) yield n / frames.length;
  }
  return columns;
}

/** Run work that yields its share to the end; `breathe` is awaited at each share. */
export async function inPieces<Result>(work: Generator<number, Result>, breathe: (share: number) => Promise<void> | void): Promise<Result> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    await breathe(step.value);
  }
}
