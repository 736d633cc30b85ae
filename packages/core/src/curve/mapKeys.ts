import { type Curve, type Key, keyAt, keysOf, Tangent } from "./curve.ts";
import { curveFromKeys } from "./make.ts";
import { settle } from "./tangents.ts";

/** Where keys go: times and values are scaled about zero, then shifted. */
export interface KeyMap {
  /** Above 0: what comes first stays first. */
  readonly timeScale: number;
  /** Frames. */
  readonly timeShift: number;
  readonly valueScale: number;
  readonly valueShift: number;
  /** Land on whole frames only. */
  readonly wholeFrames: boolean;
}

export const NO_MAP: KeyMap = { timeScale: 1, timeShift: 0, valueScale: 1, valueShift: 0, wholeFrames: false };

/** The frame to which a map takes a frame. */
export function mapTime(time: number, { timeScale, timeShift, wholeFrames }: KeyMap): number {
  const mapped = time * timeScale + timeShift;
  return wholeFrames ? Math.round(mapped) : mapped;
}

/** Where a row of times goes under a map. Curves with the same times and the same keys moved share it. */
interface Plan {
  readonly from: Float64Array;
  readonly indices: Iterable<number>;
  readonly times: Float64Array;
  readonly moves: Uint8Array;
  /** The keys that stay, in their new order; null when all do and none overtakes another. */
  readonly order: Int32Array | null;
  /** Columns put in order so far: captured curves share most of theirs. */
  readonly ordered: Map<Float64Array | Uint8Array, Float64Array | Uint8Array>;
}

/**
 * Move and scale keys of many curves, one after the other; free tangents turn with their keys. A moved key
 * replaces a still one on which it lands; of moved keys that fall on one frame the last one stays. Curves
 * that share their row of times, given one list of indices, share the new row.
 */
export function keyMapper(map: KeyMap): (curve: Curve, indices: Iterable<number>) => Curve {
  let plan: Plan | null = null;
  return (curve, indices) => {
    if (plan === null || plan.from !== curve.times || plan.indices !== indices) plan = planMap(curve.times, indices, map);
    return carryOut(plan, curve, map);
  };
}

export function mapKeys(curve: Curve, indices: Iterable<number>, map: KeyMap): Curve {
  return keyMapper(map)(curve, [...indices]);
}

function planMap(from: Float64Array, indices: Iterable<number>, map: KeyMap): Plan {
  const times = from.slice();
  const moves = new Uint8Array(times.length);
  for (const i of indices) {
    moves[i] = 1;
    times[i] = mapTime(from[i], map);
  }
  const order = isRising(times) ? null : mergedOrder(times, moves);
  return { from, indices, times: order ? inOrder(times, order, new Float64Array(order.length)) : times, moves, order, ordered: new Map() };
}

/** The slopes of moved free tangents made steeper; the others follow from their kinds. */
function turned(slopes: Float64Array, kinds: Uint8Array, moves: Uint8Array, steeper: number): Float64Array {
  if (steeper === 1 || !kinds.includes(Tangent.free)) return slopes;
  return slopes.map((slope, i) => (moves[i] === 1 && kinds[i] === Tangent.free ? slope * steeper : slope));
}

function carryOut({ times, moves, order, ordered }: Plan, curve: Curve, { timeScale, valueScale, valueShift }: KeyMap): Curve {
  let { values } = curve;
  if (valueScale !== 1 || valueShift !== 0) values = values.map((value, i) => (moves[i] === 1 ? value * valueScale + valueShift : value));
  const slopeIn = turned(curve.slopeIn, curve.kindIn, moves, valueScale / timeScale);
  const slopeOut = turned(curve.slopeOut, curve.kindOut, moves, valueScale / timeScale);
  if (order === null) return settle({ ...curve, times, values, slopeIn, slopeOut });
  const own = (column: Float64Array) => inOrder(column, order, new Float64Array(order.length));
  // Only the slopes of free tangents are carried along; the others are worked out anew from their kinds.
  const slopes = (column: Float64Array, kind: Uint8Array) => (kind.includes(Tangent.free) ? own(column) : times);
  const shared = <Column extends Float64Array | Uint8Array>(column: Column, empty: () => Column): Column => {
    const done = (ordered.get(column) as Column | undefined) ?? inOrder(column, order, empty());
    ordered.set(column, done);
    return done;
  };
  const weights = (column: Float64Array) => shared(column, () => new Float64Array(order.length));
  const kinds = (column: Uint8Array) => shared(column, () => new Uint8Array(order.length));
  return settle({
    ...curve,
    times,
    values: own(values),
    slopeIn: slopes(slopeIn, curve.kindIn),
    slopeOut: slopes(slopeOut, curve.kindOut),
    weightIn: weights(curve.weightIn),
    weightOut: weights(curve.weightOut),
    kindIn: kinds(curve.kindIn),
    kindOut: kinds(curve.kindOut),
  });
}

/** Copies of keys put where the map says; the keys themselves stay, unless a copy lands on one. */
export function copyKeys(curve: Curve, indices: Iterable<number>, map: KeyMap): Curve {
  const steeper = map.valueScale / map.timeScale;
  const copies = [...indices].map((i): Key => {
    const key = keyAt(curve, i);
    return {
      ...key,
      time: mapTime(key.time, map),
      value: key.value * map.valueScale + map.valueShift,
      slopeIn: key.slopeIn * steeper,
      slopeOut: key.slopeOut * steeper,
    };
  });
  return curveFromKeys([...keysOf(curve), ...copies], curve);
}

/** The keys moved and every later one with them: the ripple. */
export function rippleKeys(curve: Curve, indices: readonly number[], map: KeyMap): Curve {
  const first = indices.reduce((least, i) => Math.min(least, i), curve.times.length);
  return mapKeys(
    curve,
    Array.from({ length: curve.times.length - first }, (_, k) => first + k),
    { ...map, valueScale: 1, valueShift: 0 },
  );
}

/** Move keys by frames and by value. */
export function moveKeys(curve: Curve, indices: Iterable<number>, frames: number, amount: number): Curve {
  return mapKeys(curve, indices, { ...NO_MAP, timeShift: frames, valueShift: amount });
}

function isRising(times: Float64Array): boolean {
  for (let i = 1; i < times.length; i++) if (times[i] <= times[i - 1]) return false;
  return true;
}

/** Still and moved keys are each in order: merge the two, a moved one in place of a still one at its time. */
function mergedOrder(times: Float64Array, moves: Uint8Array): Int32Array {
  const n = times.length;
  const order = new Int32Array(n);
  let count = 0;
  const next = (from: number, moved: 0 | 1): number => {
    let i = from;
    while (i < n && moves[i] !== moved) i++;
    return i;
  };
  let still = next(0, 0);
  for (let m = next(0, 1); m < n; m = next(m + 1, 1)) {
    for (; still < n && times[still] < times[m]; still = next(still + 1, 0)) order[count++] = still;
    if (still < n && times[still] === times[m]) still = next(still + 1, 0);
    if (count > 0 && times[order[count - 1]] === times[m]) count--;
    order[count++] = m;
  }
  for (; still < n; still = next(still + 1, 0)) order[count++] = still;
  return order.subarray(0, count);
}

function inOrder<Column extends Float64Array | Uint8Array>(from: Column, order: Int32Array, column: Column): Column {
  for (let i = 0; i < order.length; i++) column[i] = from[order[i]];
  return column;
}
