import type { Shot } from "./shot.ts";

/** A short distance in words: millimetres where the shot says how big a unit is. */
export function sayLength({ unitMetres }: Pick<Shot, "unitMetres">, distance: number): string {
  if (unitMetres === null) return `${Number(distance.toPrecision(3))} units`;
  const mm = distance * unitMetres * 1000;
  return `${mm < 10 ? mm.toFixed(2) : mm.toFixed(0)} mm`;
}
