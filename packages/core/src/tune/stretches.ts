import { activeConstraints } from "../constraints/activeConstraints.ts";
import { type Curve, keyBefore } from "../curve/curve.ts";
import { someKeys } from "../curve/someKeys.ts";
import { settle } from "../curve/tangents.ts";
import { freedKind } from "../curve/turn.ts";
import { framesPerSecond } from "../model/rate.ts";
import { type FrameRange, layerCurves, type Shot, withLayerCurves } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";
import { passKind } from "../passes/kinds.ts";
import type { Movable } from "./keyVariables.ts";

/** A shot of more frames than `long` is tuned in stretches of about so many. */
const SIZES = { long: 8000, stretch: 2500 };
/** So many seconds around its keys a stretch is looked at, for steps of feet that reach into it. */
const AROUND = 1;
/** A tangent looks at its two neighbours, and moves the segments to them: so many keys away something may still change. */
const REACH = 2;

/** A part of a long shot: keys from one frame to before another may move, and the figure is looked at some frames around. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly seen: FrameRange;
}

/**
 * The stretches a span of a long shot can be tuned in one after the other; null where it is short, or where what a key does
 * is not over a little way off: in cycles, in curves with few keys, under passes that read other frames, with constraints.
 */
export function stretchesOf(
  shot: Shot,
  movables: readonly Movable[],
  { start, end }: FrameRange,
  { long, stretch } = SIZES,
): Stretch[] | null {
  if (end - start <= long || shot.cyclic || activeConstraints(shot).length > 0) return null;
  if (activePasses(shot).some(({ kind }) => passKind(kind)?.reads !== "keys")) return null;
  if (movables.some(({ curve: { runIn, runOut } }) => runIn.kind !== "hold" || runOut.kind !== "hold")) return null;
  const count = Math.ceil((end - start) / stretch);
  const around = Math.ceil(AROUND * framesPerSecond(shot.rate));
  const stretches: Stretch[] = [];
  for (let n = 0; n < count; n++) {
    const from = n === 0 ? Number.NEGATIVE_INFINITY : start + Math.round((n * (end - start)) / count);
    const to = n === count - 1 ? Number.POSITIVE_INFINITY : start + Math.round(((n + 1) * (end - start)) / count);
    const [first, last] = [Math.max(start, from), Math.min(end, to)];
    const seen = { start: first - around, end: last + around };
    for (const movable of movables) {
      const reach = reachOf(movable, from, to);
      seen.start = Math.min(seen.start, reach.start);
      seen.end = Math.max(seen.end, reach.end);
    }
    seen.start = Math.floor(Math.max(shot.range.start, seen.start));
    seen.end = Math.ceil(Math.min(shot.range.end, seen.end));
    if (seen.end - seen.start > 2 * stretch) return null;
    stretches.push({ from, to, seen });
  }
  return stretches;
}

/** The frames at which what may move from one frame to before another may change something; beyond its ends a curve holds for ever. */
function reachOf({ curve: { times }, keys }: Movable, from: number, to: number): FrameRange {
  const own = movedKeys(keys, ...ownKeys(times, from, to));
  if (own.length === 0) return { start: Number.POSITIVE_INFINITY, end: Number.NEGATIVE_INFINITY };
  const [first, last] = [own[0], own[own.length - 1]];
  return {
    start: first < REACH ? Number.NEGATIVE_INFINITY : times[first - REACH],
    end: last + REACH >= times.length ? Number.POSITIVE_INFINITY : times[last + REACH],
  };
}

/** The first and the last key from one frame to before another. */
function ownKeys(times: Float64Array, from: number, to: number): [first: number, last: number] {
  return [keyBefore(times, from - 1e-6) + 1, keyBefore(times, to - 1e-6)];
}

/** Of rising indices those from one to another. */
function movedKeys(keys: readonly number[], first: number, last: number): readonly number[] {
  return keys.slice(placeFor(keys, first), placeFor(keys, last + 1));
}

/** The place of the first of rising indices that is not below another. */
function placeFor(keys: readonly number[], index: number): number {
  let [low, high] = [0, keys.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (keys[middle] < index) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** A movable of a stretch, and where it was cut out: of which movable, from which key on, and which of its keys are the stretch's. */
interface CutMovable extends Movable {
  readonly number: number;
  readonly begin: number;
  readonly first: number;
  readonly last: number;
}

/** A stretch as a shot by itself, and what of it may move. */
export interface CutShot {
  readonly shot: Shot;
  readonly movables: readonly CutMovable[];
}

/**
 * Cuts a stretch out. `curves` are the movables' as they are by now, in their order; the stretch's own keys stand as they
 * were at first, so that how far they go from there can be told.
 */
export function cutOut(shot: Shot, layer: string, movables: readonly Movable[], curves: readonly Curve[], stretch: Stretch): CutShot {
  const { from, to, seen } = stretch;
  const cut: CutMovable[] = [];
  const all = { ...layerCurves(shot, layer) };
  movables.forEach(({ key, curve, keys, degree }, number) => {
    const { times } = curve;
    const [first, last] = ownKeys(times, from, to);
    const begin = Math.max(0, Math.min(first - REACH, keyBefore(times, seen.start) - 1));
    const end = Math.min(times.length, Math.max(last + REACH, keyBefore(times, seen.end) + REACH) + 1);
    const part = partOf(curves[number], begin, end);
    for (const column of columns) part[column].set(curve[column].subarray(first, last + 1), first - begin);
    all[key] = settle(part);
    const own = movedKeys(keys, first, last).map((i) => i - begin);
    if (own.length > 0) cut.push({ key, curve: all[key], keys: own, degree, number, begin, first, last });
  });
  return { shot: withLayerCurves({ ...shot, range: seen }, layer, all), movables: cut };
}

/** The movables' curves, which were `at first` such and are others by now, with a stretch's keys as they were moved. */
export function putBack(atFirst: readonly Curve[], curves: readonly Curve[], { movables }: CutShot, moved: readonly Curve[]): Curve[] {
  const next = [...curves];
  movables.forEach(({ curve, number, begin, first, last }, n) => {
    if (moved[n] === curve && curves[number] === atFirst[number]) return;
    const whole = { ...curves[number] };
    for (const column of columns) {
      whole[column] = whole[column].slice();
      whole[column].set(moved[n][column].subarray(first - begin, last + 1 - begin), first);
    }
    next[number] = settle(whole);
  });
  return next;
}

const columns = ["times", "values", "slopeIn", "slopeOut", "weightIn", "weightOut"] as const;

/** Some keys of a curve; the outermost stand as they stand, whatever was beside them. */
function partOf(curve: Curve, begin: number, end: number): Curve {
  const places = Int32Array.from({ length: end - begin }, (_, n) => begin + n);
  const part = someKeys(curve, places);
  const hold = (i: number) => {
    part.kindIn[i] = freedKind(part.kindIn[i]);
    part.kindOut[i] = freedKind(part.kindOut[i]);
  };
  if (begin > 0) hold(0);
  if (end < curve.times.length) hold(part.times.length - 1);
  return part;
}
