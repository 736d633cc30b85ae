import { type Rig, type Shot, sizeOf } from "@kneader/core";

/** From toes to the fingers of a spread arm: the figures for which lengths in settings are meant (metres). */
const MEANT = 2.4;
const sizes = new WeakMap<Rig, number>();

/**
 * How many scene units a length is that settings call 1: a metre where the shot knows its unit; where it does not, as much of
 * the figure as a metre is of somebody of usual size. Scenes of about that size keep round numbers.
 */
export function lengthScale({ rig, unitMetres }: Pick<Shot, "rig" | "unitMetres">): number {
  if (unitMetres) return 1 / unitMetres;
  const size = sizes.get(rig) ?? sizeOf(rig);
  sizes.set(rig, size);
  const scale = size / MEANT;
  return scale > 0.5 && scale < 2 ? 1 : scale;
}

/** A length of settings in scene units, to one digit. */
export const scaledLength = (length: number, scale: number): number => (scale === 1 ? length : Number((length * scale).toPrecision(1)));
