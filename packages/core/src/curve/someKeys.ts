import type { Curve } from "./curve.ts";

/** The columns of some keys, by their places in rising order; slopes stay as they are and are not settled. */
export function someKeys(curve: Curve, places: ArrayLike<number>): Curve {
  const n = places.length;
  const pick = <Column extends Float64Array | Uint8Array>(column: Column, empty: Column): Column => {
    for (let k = 0; k < n; k++) empty[k] = column[places[k]];
    return empty;
  };
  const numbers = (column: Float64Array) => pick(column, new Float64Array(n));
  return {
    ...curve,
    times: numbers(curve.times),
    values: numbers(curve.values),
    slopeIn: numbers(curve.slopeIn),
    slopeOut: numbers(curve.slopeOut),
    weightIn: numbers(curve.weightIn),
    weightOut: numbers(curve.weightOut),
    kindIn: pick(curve.kindIn, new Uint8Array(n)),
    kindOut: pick(curve.kindOut, new Uint8Array(n)),
  };
}
