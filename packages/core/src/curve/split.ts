import { solveBezier } from "./bezier.ts";
import { type Curve, type Key, keysOf, makeKey, Tangent, THIRD } from "./curve.ts";
import { curveKeeping } from "./make.ts";

/**
 * The same curve with more keys between its own: it has the same value at every time as before. `times` rise, lie
 * between the first and the last key, and have no key yet.
 */
export function splitAt(curve: Curve, times: readonly number[]): Curve {
  const own = keysOf(curve);
  const keys: Key[] = [];
  let next = 0;
  own.forEach((key, i) => {
    let before = key;
    keys.push(key);
    for (; next < times.length && i + 1 < own.length && times[next] < own[i + 1].time; next++) {
      before = splitSegment(before, own[i + 1], times[next]);
      keys.push(before);
    }
  });
  return curveKeeping(keys, curve);
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
    a.weightOut = q1[0] / x;
    b.weightIn = (1 - r2[0]) / (1 - x);
    key.weightIn = (x - q2[0]) / x;
    key.weightOut = (r1[0] - x) / (1 - x);
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
