import type { Curve } from "./curve.ts";

/** Do two curves say the same, to the bit? */
export function isSameCurve(a: Curve, b: Curve): boolean {
  if (a === b) return true;
  return (Object.keys(a) as (keyof Curve)[]).every((name) => {
    const [one, other] = [a[name], b[name]];
    if (!ArrayBuffer.isView(one) || !ArrayBuffer.isView(other)) return JSON.stringify(one) === JSON.stringify(other);
    const [x, y] = [one as Float64Array, other as Float64Array];
    return x.length === y.length && x.every((value, i) => Object.is(value, y[i]));
  });
}
