import type { Constraint, Shot } from "../model/shot.ts";

/** The constraints that have a say: those that are on, and of those only the ones alone where there are such. */
export function activeConstraints({ constraints }: Pick<Shot, "constraints">): readonly Constraint[] {
  const on = constraints.filter((one) => one.on);
  return on.some(({ solo }) => solo) ? on.filter(({ solo }) => solo) : on;
}
