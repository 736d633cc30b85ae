import { type Curve, type Key, Tangent, type TangentKind } from "./curve.ts";

/** A kind whose slope does not depend on the neighbours: auto and smooth become free. */
export function freedKind<Kind extends number>(kind: Kind): Kind | typeof Tangent.free {
  return kind === Tangent.auto || kind === Tangent.smooth ? Tangent.free : kind;
}

/** The key with both tangents held as they are now. */
export function freedKey(key: Key): Key {
  return { ...key, kindIn: freedKind(key.kindIn) as TangentKind, kindOut: freedKind(key.kindOut) as TangentKind };
}

/**
 * A curve whose keys from `first` to `last` are mirrored in time about half of `sum` (t becomes sum − t): tangents are held
 * and swap sides. A hold becomes a hold of the key after it, which keeps even stepped motion exact.
 */
export function turnedCurve(curve: Curve, sum: number, first = 0, last = curve.times.length - 1): Curve {
  const { times, values, slopeIn, slopeOut, weightIn, weightOut, kindIn, kindOut } = curve;
  const mirrored = <Column extends Float64Array | Uint8Array>(own: Column, other: Column, turned: (number: number) => number): Column => {
    const column = own.slice() as Column;
    for (let i = first; i <= last; i++) column[i] = turned(other[first + last - i]);
    return column;
  };
  const same = (number: number) => number;
  const negative = (number: number) => -number;
  const turned = {
    ...curve,
    times: mirrored(times, times, (time) => sum - time),
    values: mirrored(values, values, same),
    slopeIn: mirrored(slopeIn, slopeOut, negative),
    slopeOut: mirrored(slopeOut, slopeIn, negative),
    weightIn: mirrored(weightIn, weightOut, same),
    weightOut: mirrored(weightOut, weightIn, same),
    kindIn: mirrored(kindIn, kindOut, freedKind),
    kindOut: mirrored(kindOut, kindIn, freedKind),
  };
  // Where a segment is stepped from both ends the key before it wins; only that one may be mirrored.
  for (let i = first; i < last; i++) if (kindOut[first + last - i - 1] === Tangent.stepped) turned.kindOut[i] = Tangent.flat;
  return turned;
}
