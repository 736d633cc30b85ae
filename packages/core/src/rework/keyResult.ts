import { KneaderError } from "../errors.ts";
import { makePlayer } from "../figure/player.ts";
import { type ChannelKey, channelTitle } from "../model/rig.ts";
import { layerCurves, type Shot } from "../model/shot.ts";
import { sampleCurve } from "../curve/track.ts";
import { passKind } from "../passes/kinds.ts";
import { keyChannels } from "./keyChannels.ts";

/** Rounds of the search; one is enough where the result follows the key in proportion, as it mostly does. */
const ROUNDS = 6;
const ENOUGH = 1e-6;

/**
 * Key a channel of a layer at a frame with the value with which all passes together come out at `wanted`.
 * Errors: `bad-setting` when the layer has no say there: it is off, has no weight, or a pass above replaces it.
 */
export function keyResult(shot: Shot, layer: string, key: ChannelKey, frame: number, wanted: number): Shot {
  const at = makePlayer(shot).channelIndex.get(key);
  if (at === undefined) throw new KneaderError("not-found", `The rig has no channel "${key}".`);
  const resultOf = (value: number) => {
    const tried = keyChannels(shot, layer, frame, { [key]: value });
    const player = makePlayer(tried);
    player.readValues(frame);
    return { tried, result: player.values[at] };
  };
  let value = ownValue(shot, layer, key, frame);
  let now = resultOf(value);
  for (let round = 0; round < ROUNDS && Math.abs(now.result - wanted) > ENOUGH; round++) {
    const pull = resultOf(value + 1).result - now.result;
    if (Math.abs(pull) < 1e-6)
      throw new KneaderError(
        "bad-setting",
        `${channelTitle(shot.rig, key)} at frame ${frame}: a key here would not be seen, as the layer is off, has no weight there, or is replaced above.`,
        "Choose another layer, or turn this one up.",
      );
    value += (wanted - now.result) / pull;
    now = resultOf(value);
  }
  return now.tried;
}

/** What the layer has there now; a pass without a curve adds nothing, or keeps what is below. */
function ownValue(shot: Shot, layer: string, key: ChannelKey, frame: number): number {
  const curve = layerCurves(shot, layer)[key];
  if (curve) return sampleCurve(curve, frame);
  const kind = passKind(shot.passes.find((pass) => pass.id === layer)?.kind ?? "");
  const player = makePlayer(shot, { below: layer });
  player.readValues(frame);
  const below = player.values[player.channelIndex.get(key) as number];
  return kind?.reads === "keys" ? kind.neutral(below) : below;
}
