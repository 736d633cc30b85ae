import { aim } from "./aim.ts";
import { carry } from "./carry.ts";
import type { ConstraintKind } from "./constraintKind.ts";
import { follow } from "./follow.ts";
import { plant } from "./plant.ts";
import { reach } from "./reach.ts";
import { space } from "./space.ts";

/** Every kind of constraint, in the order in which those on one control work: what comes later goes by what was done before. */
const constraintKinds = [space, follow, aim, carry, reach, plant] as unknown as readonly ConstraintKind[];

export function constraintKind(id: string): ConstraintKind | undefined {
  return constraintKinds.find((kind) => kind.id === id);
}

/** The place of a kind in that order. */
export function constraintRank(id: string): number {
  return constraintKinds.findIndex((kind) => kind.id === id);
}
