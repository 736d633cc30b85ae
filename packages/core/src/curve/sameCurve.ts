import type { Curve } from "./curve.ts";

const columns = ["times", "values", "slopeIn", "slopeOut", "weightIn", "weightOut", "kindIn", "kindOut"] as const;

/** Do two curves have the same keys, number by number, and go on alike? */
export function sameCurve(a: Curve, b: Curve): boolean {
  if (a === b) return true;
  const runs = (["runIn", "runOut"] as const).every((side) => a[side].kind === b[side].kind && a[side].rounds === b[side].rounds);
  return runs && columns.every((column) => a[column].length === b[column].length && a[column].every((x, i) => x === b[column][i]));
}
