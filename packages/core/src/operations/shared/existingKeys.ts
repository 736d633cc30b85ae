import { type Curve, keysOf, Tangent } from "../../curve/curve.ts";
import { insertKeyOn, insertKeysOn } from "../../curve/edit.ts";
import { openRounds } from "../../curve/loop.ts";
import { constantCurve, curveFromKeys, curveKeeping } from "../../curve/make.ts";
import { placesOf, unionOfTimes } from "../../curve/timeRows.ts";
import { trackOf } from "../../curve/track.ts";
import { warpTimes } from "../../curve/warpTimes.ts";
import { nodeFrame } from "../../evaluate/timeNode.ts";
import { type ChannelKey, restValue, splitChannelKey } from "../../model/rig.ts";
import type { FrameRange, Pass, Shot } from "../../model/shot.ts";
import { computedKind, timedKind } from "../../passes/kinds.ts";
import { passMembers } from "../../passes/members.ts";

/** A channel of base motion with keys wherever passes have some too, as they now play; values are still base's. */
export function withKeysOf(shot: Shot, playing: readonly Pass[], key: ChannelKey): Curve {
  let curve = shot.base[key] ?? constantCurve(restValue(splitChannelKey(key).channel), shot.range.start);
  // The cycle stays one where all passes change every round alike.
  if (!playing.every((pass) => isSteady(shot, pass, key))) curve = openRounds(openRounds(curve, shot.range.start), shot.range.end);
  let times = new Set<number>(curve.times);
  for (const pass of playing) {
    const read = timedKind(pass.kind)?.reader(pass, shot)(key);
    if (!read) for (const time of pass.curves[key]?.times ?? []) times.add(time);
    else if (passMembers(shot, pass).includes(key)) {
      const node = { pass, weight: trackOf(pass.weight), read };
      const played = (time: number) => Math.round(frameThatPlays(node, time, shot.range));
      curve = warpTimes(curve, played);
      times = new Set([...times].map(played));
    }
  }
  return insertKeysOn(curve, times);
}

/** Does a pass add the same to a channel at all times? */
function isSteady(shot: Shot, pass: Pass, key: ChannelKey): boolean {
  if (computedKind(pass.kind)) return !passMembers(shot, pass).includes(key);
  const curve = pass.curves[key];
  return !curve || (curve.times.length === 1 && pass.weight.times.length === 1 && pass.range === null && pass.compose === "channel");
}

/** How far beside a key the slope of a free tangent is looked at, in frames. */
const BESIDE = 1e-3;

/** Is what happens right beside a key a jump: most of the way to its neighbour, within so small a part of a frame? */
const isJump = (from: number, beside: number, neighbour: number): boolean =>
  Math.abs(beside - from) > 1e-6 && Math.abs(beside - from) > 0.5 * Math.abs(neighbour - from);

/** Curves with the values, and where tangents are free the slopes, that everything together has at their keys. */
export function keyedAlike(
  curves: ReadonlyMap<ChannelKey, Curve>,
  read: (frame: number, n: number, into: ReadonlyMap<ChannelKey, Float64Array>) => void,
): Map<ChannelKey, Curve> {
  const rows = new Set([...curves.values()].map((curve) => curve.times));
  const times = unionOfTimes(rows);
  const columns = () => new Map([...curves.keys()].map((key) => [key, new Float64Array(times.length)]));
  const [at, before, after] = [columns(), columns(), columns()];
  const isFree = ({ kindIn, kindOut }: Curve) => kindIn.includes(Tangent.free) || kindOut.includes(Tangent.free);
  const slopes = [...curves.values()].some(isFree);
  times.forEach((time, n) => {
    read(time, n, at);
    if (!slopes) return;
    read(time - BESIDE, n, before);
    read(time + BESIDE, n, after);
  });
  return new Map(
    [...curves].map(([key, curve]) => {
      const column = (of: ReadonlyMap<ChannelKey, Float64Array>) => of.get(key) as Float64Array;
      const place = new Map<number, number>();
      placesOf(curve.times, times, (n, i) => place.set(i, n));
      const of = (from: Float64Array, i: number) => from[place.get(i) as number];
      const keys = keysOf(curve).map((own, i) => ({ ...own, value: of(column(at), i) }));
      keys.forEach((key, i) => {
        if (key.kindIn === Tangent.free) {
          const beside = of(column(before), i);
          if (i > 0 && isJump(key.value, beside, keys[i - 1].value)) {
            // It was held until here.
            key.kindIn = Tangent.flat;
            key.slopeIn = 0;
            keys[i - 1].kindOut = Tangent.stepped;
          } else key.slopeIn = (key.value - beside) / BESIDE;
        }
        if (key.kindOut !== Tangent.free) return;
        const beside = of(column(after), i);
        if (i + 1 < keys.length && isJump(key.value, beside, keys[i + 1].value)) {
          // The next value is there at once.
          key.kindOut = Tangent.flat;
          key.slopeOut = 0;
          keys[i + 1].kindIn = Tangent.stepped;
        } else key.slopeOut = (beside - key.value) / BESIDE;
      });
      return [key, curveFromKeys(keys, curve)];
    }),
  );
}

/** Baked frames, and the keys that stood outside them, where there were any. */
export function withOutside(baked: Curve, existing: Curve | null | undefined, { start, end }: FrameRange): Curve {
  const outside = (existing ? keysOf(existing) : []).filter(({ time }) => time < start - 1e-6 || time > end + 1e-6);
  if (outside.length === 0) return baked;
  const ends = baked.times.length === 1 ? keysOf(insertKeyOn(insertKeyOn(baked, start), end)) : keysOf(baked);
  return curveKeeping([...ends, ...outside]);
}

/** The first frame at which a pass plays a frame of what is below it, by halving; a warp never runs backward. */
function frameThatPlays(node: Parameters<typeof nodeFrame>[0], time: number, range: FrameRange): number {
  let low = Math.min(time, range.start) - 1;
  let high = Math.max(time, range.end) + 1;
  while (high - low > 1e-4) {
    const middle = (low + high) / 2;
    if (nodeFrame(node, middle) < time - 1e-6) low = middle;
    else high = middle;
  }
  return high;
}
