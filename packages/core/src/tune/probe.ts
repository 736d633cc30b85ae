import type { Curve } from "../curve/curve.ts";
import { sampleTrack, type Track, trackOf } from "../curve/track.ts";
import { activeConstraints } from "../constraints/activeConstraints.ts";
import { tiesOf } from "../constraints/ledControls.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { pointOf } from "../figure/pointOf.ts";
import { layoutOf } from "../figure/rigLayout.ts";
import { type ChannelKey, channelUnit, splitChannelKey, transformChannels } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";
import { passKind } from "../passes/kinds.ts";
import { makePlainChannels } from "./plainChannels.ts";
import { makePulls } from "./pulls.ts";
import { controlOfKey, type FigureMotion, type Looked } from "./figureMotion.ts";

/** What each unit of a channel's own value at a time means for something. */
type AddSample = (channel: number, time: number, by: number) => void;

/**
 * A shot whose curves of one layer are changed again and again: answers where the figure is with them, and how that
 * changes with them, passes above and constraints honoured. What other passes compute is held as it was at first.
 */
export interface Probe {
  /** Where the figure is with these curves, one a channel, in the order given. In pieces, as is the other: yields the share done. */
  read(curves: readonly Curve[], out: FigureMotion): Generator<number, void>;
  /** Something changes by `slope` with the figure, as it was read last: hand on what that means for the channels' own values. */
  trace(slope: FigureMotion, add: AddSample): Generator<number, void>;
}

/** Steps by which a channel is moved to see what comes of it: small against what is bent, large against what is rounded. */
const STEPS = { degrees: 1e-3, length: 1e-5, factor: 1e-5, percent: 1e-3, number: 1e-3 };

/** Frames between one breath and the next. */
const BREATH = 500;

/** `size` is the figure's, scene units. */
export function makeProbe(shot: Shot, layer: string, keys: readonly ChannelKey[], looked: Looked, size: number): Probe {
  const own = keys.map(() => ({ time: Number.NaN, value: 0 }));
  const moved = new Float64Array(keys.length);
  let tracks: Track[] = [];
  const live = {
    layer,
    keys,
    read: (n: number, time: number) => {
      const known = own[n];
      if (known.time !== time) {
        known.value = sampleTrack(tracks[n], time);
        known.time = time;
      }
      return known.value + moved[n];
    },
  };
  const player = makePlayer(shot, { live });
  const { controlIndex } = layoutOf(shot.rig);
  const { points, channels } = looked;
  const channelAt = channels.map((key) => player.channelIndex.get(key) as number);
  const controls = keys.map((key) => controlIndex.get(controlOfKey(key)) as number);
  const steps = keys.map((key) => {
    const unit = channelUnit(splitChannelKey(key).channel);
    return unit === "length" ? STEPS.length * size : STEPS[unit];
  });
  const alone = aloneControls(shot, looked);
  const plain = makePlainChannels(shot, looked, { player, keys, moved, steps }, alone);
  const isPlain = new Set(plain.numbers);
  const tied = keys.flatMap((_, n) => (alone.has(controls[n]) ? [] : [n]));
  // Channels of different controls that nothing leads do not hang together: one of each is moved at the same time.
  const rounds = transformChannels.flatMap((channel) => {
    const round = keys.flatMap((key, n) =>
      alone.has(controls[n]) && !isPlain.has(n) && splitChannelKey(key).channel === channel ? [n] : [],
    );
    return round.length > 0 ? [round] : [];
  });
  const count = shot.rig.controls.length;
  const before = new Float64Array(count * 16);
  const local = new Float64Array(16);
  const point = new Float64Array(3);
  const pulls = makePulls(shot.rig);
  let start = 0;

  function fill(out: FigureMotion, f: number): void {
    if (channels.length > 0) {
      player.readValues(start + f);
      for (let c = 0; c < channels.length; c++) out.values[f * channels.length + c] = player.values[channelAt[c]];
    }
    player.pose(start + f);
    placesNow();
    out.places.set(places, f * places.length);
  }

  const readTimes = new Float64Array(keys.length);
  const places = new Float64Array(points.length * 3);
  const sums = new Float64Array(keys.length);
  let looksAtValues = false;
  /** By key: the numbers of the looked at channels of the same control. */
  const ofControl = keys.map((_, n) => channels.flatMap((key, c) => (controlIndex.get(controlOfKey(key)) === controls[n] ? [c] : [])));

  /** Moves some channels by their steps, up and down, and lets `take` see the figure each time. */
  function bothWays(round: readonly number[], take: (sign: 1 | -1) => void): void {
    for (const sign of [1, -1] as const) {
      for (const n of round) moved[n] = sign * steps[n];
      take(sign);
    }
    for (const n of round) moved[n] = 0;
  }

  function addValues(slope: FigureMotion, f: number, round: readonly number[], sign: 1 | -1): void {
    if (!looksAtValues) return;
    player.readValues(start + f);
    for (const n of round)
      for (const c of ofControl[n]) {
        const by = slope.values[f * channels.length + c];
        if (by !== 0) sums[n] += (sign * by * player.values[channelAt[c]]) / (2 * steps[n]);
      }
  }

  function placesNow(): void {
    for (let p = 0; p < points.length; p++) {
      pointOf(point, player.worlds, points[p].control, points[p].at);
      for (let k = 0; k < 3; k++) places[p * 3 + k] = point[k];
    }
  }

  return {
    *read(curves, out) {
      tracks = curves.map(trackOf);
      for (const known of own) known.time = Number.NaN;
      start = out.start;
      for (let f = 0; f < out.count; f++) {
        if (f % BREATH === BREATH - 1) yield f / out.count;
        fill(out, f);
      }
    },
    *trace(slope, add) {
      looksAtValues = slope.values.some((by) => by !== 0);
      for (let f = 0; f < slope.count; f++) {
        if (f % BREATH === BREATH - 1) yield f / slope.count;
        plain.weigh(start + f);
        player.pose(start + f);
        for (let n = 0; n < keys.length; n++) readTimes[n] = own[n].time;
        sums.fill(0);
        plain.add(sums, slope, f);
        if (rounds.length > 0) {
          before.set(player.worlds);
          pulls.gather(before, points, slope, f);
        }
        for (const round of rounds)
          bothWays(round, (sign) => {
            player.pose(start + f);
            for (const n of round) {
              pulls.localOf(local, 0, player.worlds, controls[n]);
              sums[n] += (sign * pulls.meaning(controls[n], local)) / (2 * steps[n]);
            }
            addValues(slope, f, round, sign);
          });
        for (const n of tied)
          bothWays([n], (sign) => {
            player.pose(start + f);
            placesNow();
            let sum = 0;
            for (let k = 0; k < places.length; k++) sum += slope.places[f * places.length + k] * places[k];
            sums[n] += (sign * sum) / (2 * steps[n]);
            addValues(slope, f, [n], sign);
          });
        for (let n = 0; n < keys.length; n++) if (sums[n] !== 0) add(n, readTimes[n], sums[n]);
      }
    },
  };
}

/**
 * Controls whose matrices are their own channels' under the ones above, with all that hangs on them: nothing that has a
 * say in the points leads, reads or carries any of it.
 */
function aloneControls(shot: Shot, { points }: Looked): ReadonlySet<number> {
  const { controlIndex, parents } = layoutOf(shot.rig);
  // What is read at other frames, and rides along with a camera meanwhile, is looked at as a whole.
  const isTimed = activePasses(shot).some(({ kind }) => passKind(kind)?.reads === "time");
  if (isTimed) return new Set();
  const withAbove = (into: Set<number>, i: number) => {
    for (let at = i; at >= 0 && !into.has(at); at = parents[at]) into.add(at);
  };
  /** What the points' places come from. */
  const sources = new Set<number>();
  for (const { control } of points) withAbove(sources, control);
  const tied = new Set<number>();
  const left = activeConstraints(shot).map((constraint) => {
    const { reads, writes } = tiesOf(constraint);
    const indices = (ids: readonly string[]) => ids.flatMap((id) => controlIndex.get(id) ?? []);
    return { reads: indices(reads), writes: indices(writes) };
  });
  for (let n = left.findIndex(matters); n >= 0; n = left.findIndex(matters)) {
    const [{ reads, writes }] = left.splice(n, 1);
    for (const i of [...reads, ...writes]) {
      withAbove(sources, i);
      withAbove(tied, i);
    }
  }
  return new Set(shot.rig.controls.flatMap((_, i) => (tied.has(i) ? [] : [i])));

  function matters({ writes }: { readonly writes: readonly number[] }): boolean {
    return writes.some((i) => sources.has(i));
  }
}
