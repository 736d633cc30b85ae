import { layoutOf } from "../figure/rigLayout.ts";
import type { Player } from "../figure/player.ts";
import { type ChannelKey, moveChannels, rotateChannels, splitChannelKey } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";
import { changedBy } from "../passes/members.ts";
import { controlOfKey, type FigureMotion, type Looked } from "./figureMotion.ts";
import { makeOwnPulls } from "./ownPulls.ts";

/** Moves and angles of a control, in the order in which `OwnPulls` answers. */
const OWN: readonly string[] = [...moveChannels, ...rotateChannels];

/** A player whose channels can be moved by some of their units, by their numbers. */
interface MovedPlayer {
  readonly player: Player;
  readonly keys: readonly ChannelKey[];
  readonly moved: Float64Array;
  /** Small steps of each. */
  readonly steps: readonly number[];
}

/** Channels of which it is known in closed form what they do to the figure. */
export interface PlainChannels {
  readonly numbers: readonly number[];
  /** See how far each channel has a say in what all passes leave of it at a frame. Poses nothing. */
  weigh(frame: number): void;
  /** Something changes by `slope` with the posed figure: add what that means for each of the channels. */
  add(sums: Float64Array, slope: FigureMotion, f: number): void;
}

/**
 * Moves and angles of controls that are alone (`alone`, by index): nothing else leads them, and no pass joins them as
 * rotations, so that a channel's final value goes with its own in proportion.
 */
export function makePlainChannels(shot: Shot, { points, channels }: Looked, at: MovedPlayer, alone: ReadonlySet<number>): PlainChannels {
  const { player, keys, moved, steps } = at;
  const { controlIndex, channelIndex } = layoutOf(shot.rig);
  const passes = activePasses(shot);
  const joined = new Set(passes.flatMap((pass) => (pass.compose === "rotation" ? changedBy(shot, pass).map(controlOfKey) : [])));
  const controls = keys.map((key) => controlIndex.get(controlOfKey(key)) as number);
  const parts = keys.map((key) => OWN.indexOf(splitChannelKey(key).channel));
  const numbers = keys.flatMap((key, n) => (parts[n] >= 0 && alone.has(controls[n]) && !joined.has(controlOfKey(key)) ? [n] : []));
  const places = keys.map((key) => channelIndex.get(key) as number);
  const looks = keys.map((key) => channels.indexOf(key));
  const wanted = [...new Set(numbers.map((n) => controls[n]))];
  const pulls = makeOwnPulls(shot.rig);
  const meanings = new Float64Array(shot.rig.controls.length * OWN.length);
  const meaning = new Float64Array(OWN.length);
  const shares = new Float64Array(keys.length).fill(1);

  function read(frame: number, sign: 1 | -1): void {
    for (const n of numbers) moved[n] = sign * steps[n];
    player.readValues(frame);
    for (const n of numbers) shares[n] += (sign * player.values[places[n]]) / (2 * steps[n]);
  }

  return {
    numbers,
    weigh(frame) {
      if (passes.length === 0 || numbers.length === 0) return;
      shares.fill(0);
      read(frame, 1);
      read(frame, -1);
      for (const n of numbers) moved[n] = 0;
    },
    add(sums, slope, f) {
      if (numbers.length === 0) return;
      pulls.gather(player.worlds, points, slope, f);
      for (const control of wanted) {
        pulls.meaning(meaning, player.worlds, player.values, control);
        meanings.set(meaning, control * OWN.length);
      }
      for (const n of numbers) {
        const own = meanings[controls[n] * OWN.length + parts[n]];
        const looked = looks[n] < 0 ? 0 : slope.values[f * channels.length + looks[n]];
        sums[n] += shares[n] * (own + looked);
      }
    },
  };
}
