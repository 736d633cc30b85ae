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
