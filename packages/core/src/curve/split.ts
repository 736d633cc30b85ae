import { solveBezier } from "./bezier.ts";
import { type Curve, type Key, keyAt, keyBefore, makeKey, Tangent, THIRD } from "./curve.ts";
import { keeping } from "./make.ts";

/**
 * The same curve with more keys between its own: it has the same value at every time as before. `times` rise, lie
 * between the first and the last key, and have no key yet.
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
  for (const time of times) {
    const i = keyBefore(curve.times, time);
    const behind = made.get(i) ?? [];
    made.set(i, behind);
    behind.push(splitSegment(behind[behind.length - 1] ?? own(i), own(i + 1), time));
  }
  const wide = widened(curve, times.length);
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

/** The key that splits the segment a–b at `time`; the handles of a and b are shortened to fit. */
function splitSegment(a: Key, b: Key, time: number): Key {
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
