import { solveBezier } from "./bezier.ts";
import { type Curve, type Key, keyAt, keyBefore, makeKey, Tangent, THIRD } from "./curve.ts";
import { keeping } from "./make.ts";

/**
 * The same curve with more keys between its own: it has the same value at every time as before. `times` rise, lie
 * between the first and the last key, and have no key yet. Where both handles of a segment are so long that one would reach
 * beyond a new key, which no handle may, there is one more in its middle.
 */
export function splitAt(curve: Curve, times: readonly number[]): Curve {
  // Keys whose handles are shortened, by their place; and the new ones behind each place.
  const cut = new Map<number, Key>();
  const made = new Map<number, Key[]>();
  const own = (i: number): Key => {
    const key = cut.get(i) ?? keyAt(curve, i);
    cut.set(i, key);
    return key;
  };
  for (let n = 0; n < times.length; ) {
    const i = keyBefore(curve.times, times[n]);
    const first = n++;
    while (n < times.length && times[n] < curve.times[i + 1]) n++;
    made.set(i, splitSegment(own(i), own(i + 1), times.slice(first, n)));
  }
  const more = [...made.values()].reduce((sum, keys) => sum + keys.length, 0);
  const wide = widened(curve, more);
  let [from, to] = [0, 0];
  for (const [i, keys] of made) {
    copyColumns(curve, from, i + 1, wide, to);
    to += i + 1 - from;
    from = i + 1;
    for (const key of keys) putKey(wide, to++, key);
  }
  copyColumns(curve, from, curve.times.length, wide, to);
  let before = 0;
  for (const [i, keys] of made) {
    putKey(wide, i + before, own(i));
    before += keys.length;
    putKey(wide, i + 1 + before, own(i + 1));
  }
  // A tangent looks at two neighbours at the most.
  const [first] = made.keys();
  return keeping(wide, first - 2, wide.times.length - (curve.times.length - from) + 2);
}

/** The same curve with room for more keys. */
function widened(curve: Curve, more: number): Curve {
  const n = curve.times.length + more;
  const numbers = () => new Float64Array(n);
  return {
    ...curve,
    times: numbers(),
    values: numbers(),
    slopeIn: numbers(),
    slopeOut: numbers(),
    weightIn: numbers(),
    weightOut: numbers(),
    kindIn: new Uint8Array(n),
    kindOut: new Uint8Array(n),
  };
}

const columns = ["times", "values", "slopeIn", "slopeOut", "weightIn", "weightOut"] as const;

function copyColumns(from: Curve, start: number, end: number, to: Curve, at: number): void {
  for (const name of columns) to[name].set(from[name].subarray(start, end), at);
  for (const name of ["kindIn", "kindOut"] as const) to[name].set(from[name].subarray(start, end), at);
}

function putKey(curve: Curve, at: number, key: Key): void {
  curve.times[at] = key.time;
  curve.values[at] = key.value;
  for (const name of ["slopeIn", "slopeOut", "weightIn", "weightOut", "kindIn", "kindOut"] as const) curve[name][at] = key[name];
}

/** The keys that split the segment a–b at some times; the handles of a and b are shortened to fit. */
function splitSegment(a: Key, b: Key, times: readonly number[]): Key[] {
  const keys: Key[] = [];
  let last = a;
  for (let n = 0; n < times.length; n++) {
    if (reachesBeyond(last, b, times[n])) {
      const rest = times.slice(n);
      const middle = middleOf(last, b);
      const time = rest.find((one) => Math.abs(one - middle) < SAME) ?? middle;
      const key = splitOnce(last, b, time);
      const early = splitSegment(
        last,
        key,
        rest.filter((one) => one < time),
      );
      const late = splitSegment(
        key,
        b,
        rest.filter((one) => one > time),
      );
      return [...keys, ...early, key, ...late];
    }
    last = splitOnce(last, b, times[n]);
    keys.push(last);
  }
  return keys;
}

/** Keys nearer to one another (frames) are one. */
const SAME = 1e-6;
/** What rounding may make of a handle that is as long as its segment. */
const ALL = 1 + 1e-9;

/** Would a handle of the segment a–b reach beyond a key at `time`? (The outer handles of de Casteljau's two halves.) */
function reachesBeyond(a: Key, b: Key, time: number): boolean {
  const [wa, wb] = [a.weightOut, b.weightIn];
  if (a.kindOut === Tangent.stepped || b.kindIn === Tangent.stepped || (wa === THIRD && wb === THIRD)) return false;
  const x = (time - a.time) / (b.time - a.time);
  const u = solveBezier(wa, 1 - wb, x);
  return u * wa > x * ALL || (1 - u) * wb > (1 - x) * ALL;
}

/** The time at which a segment is through with half its handles: there none reaches beyond, as 4·a ≤ 3·a + 3·b + 1. */
function middleOf(a: Key, b: Key): number {
  return a.time + ((b.time - a.time) * (3 * a.weightOut + 3 * (1 - b.weightIn) + 1)) / 8;
}

/** The key that splits the segment a–b at `time`; the handles of a and b are shortened to fit. */
function splitOnce(a: Key, b: Key, time: number): Key {
  const h = b.time - a.time;
  const x = (time - a.time) / h;
  const key = makeKey(time, 0);
  if (a.kindOut === Tangent.stepped) return { ...key, value: a.value, kindIn: Tangent.flat, kindOut: Tangent.stepped };
  if (b.kindIn === Tangent.stepped) return { ...key, value: b.value, kindIn: Tangent.stepped, kindOut: Tangent.flat };
  const linear = a.kindOut === Tangent.linear && b.kindIn === Tangent.linear;
  // A linear side of a curved segment would turn toward the new key; it is held where it points now.
  if (!linear && a.kindOut === Tangent.linear) a.kindOut = Tangent.free;
  if (!linear && b.kindIn === Tangent.linear) b.kindIn = Tangent.free;
  const wa = a.weightOut;
  const wb = b.weightIn;
  const plain = wa === THIRD && wb === THIRD;
  const u = plain ? x : solveBezier(wa, 1 - wb, x);
  // de Casteljau on (time, value), time as a share of the segment.
  const mix = (p: number[], q: number[]) => [p[0] + (q[0] - p[0]) * u, p[1] + (q[1] - p[1]) * u];
  const p0 = [0, a.value];
  const p1 = [wa, a.value + wa * h * a.slopeOut];
  const p2 = [1 - wb, b.value - wb * h * b.slopeIn];
  const p3 = [1, b.value];
  const q1 = mix(p0, p1);
  const middle = mix(p1, p2);
  const r2 = mix(p2, p3);
  const q2 = mix(q1, middle);
  const r1 = mix(middle, r2);
  const s = mix(q2, r1);
  if (!plain) {
    a.weightOut = share(q1[0] / x);
    b.weightIn = share((1 - r2[0]) / (1 - x));
    key.weightIn = share((x - q2[0]) / x);
    key.weightOut = share((r1[0] - x) / (1 - x));
  }
  const rise = r1[1] - q2[1];
  const along = (r1[0] - q2[0]) * h;
  const slope = along > 0 ? rise / along : 0;
  return {
    ...key,
    value: s[1],
    slopeIn: slope,
    slopeOut: slope,
    kindIn: linear ? Tangent.linear : Tangent.free,
    kindOut: linear ? Tangent.linear : Tangent.free,
  };
}

/** A share of a segment, rounding left aside. */
const share = (value: number) => Math.min(1, Math.max(0, value));
