import { type Curve, keyBefore, keysOf, Tangent } from "./curve.ts";
import { removeKeys } from "./edit.ts";
import { curveFromKeys } from "./make.ts";
import { sampleCurve } from "./track.ts";
import { freedKey } from "./turn.ts";

/** Places within each segment at which a curve with and without a key are compared. */
const PLACES = 8;

/**
 * Take out keys that change nothing: those without which the curve stays within `tolerance` of what it was.
 * The first and the last key stay unless all keys are equal. `among` limits which keys may go.
 */
export function withoutRedundant(curve: Curve, among: readonly number[], tolerance: number): Curve {
  const all = curve.values.every((value) => Math.abs(value - curve.values[0]) <= tolerance);
  const flat =
    all && curve.slopeIn.every((slope) => Math.abs(slope) <= tolerance) && curve.slopeOut.every((slope) => Math.abs(slope) <= tolerance);
  if (flat && curve.times.length > 1 && among.length === curve.times.length && curve.runOut.kind !== "travel")
    return removeKeys(curve, among.slice(1)) ?? curve;
  const mayGo = new Set(among);
  const keys = keysOf(curve).map(freedKey);
  const gone: number[] = [];
  let before = 0;
  for (let i = 1; i + 1 < keys.length; i++) {
    const [a, b] = [keys[before], keys[i + 1]];
    if (mayGo.has(i) && same(curve, curveFromKeys([bare(a, "out", b), bare(b, "in", a)]), a.time, b.time, tolerance)) gone.push(i);
    else before = i;
  }
  return gone.length > 0 ? (removeKeys(holdAround(curve, gone), gone) ?? curve) : curve;
}

type Key = ReturnType<typeof freedKey>;

/** An end of a span as it would be without the key in between: a line that went to it goes on to the other end. */
function bare(key: Key, side: "in" | "out", other: Key): Key {
  const linear = side === "out" ? key.kindOut === Tangent.linear : key.kindIn === Tangent.linear;
  if (!linear) return key;
  const slope = (other.value - key.value) / (other.time - key.time);
  return side === "out" ? { ...key, slopeOut: slope } : { ...key, slopeIn: slope };
}

function same(curve: Curve, span: Curve, from: number, to: number, tolerance: number): boolean {
  const inside = Array.from(curve.times.subarray(keyBefore(curve.times, from), keyBefore(curve.times, to) + 1));
  for (let i = 0; i + 1 < inside.length; i++)
    for (let k = i === 0 ? 1 : 0; k < PLACES; k++) {
      const time = inside[i] + ((inside[i + 1] - inside[i]) * k) / PLACES;
      if (Math.abs(sampleCurve(curve, time) - sampleCurve(span, time)) > tolerance) return false;
    }
  return true;
}

/** Tangents that would lean toward another neighbour once keys are gone are held as they are. */
function holdAround(curve: Curve, gone: readonly number[]): Curve {
  const beside = new Set(gone.flatMap((i) => [i - 2, i - 1, i + 1, i + 2]));
  return curveFromKeys(
    keysOf(curve).map((key, i) => (beside.has(i) ? freedKey(key) : key)),
    curve,
  );
}
