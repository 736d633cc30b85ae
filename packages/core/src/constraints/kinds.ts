import type { ConstraintKind } from "./constraintKind.ts";
import { follow } from "./follow.ts";

/** Every kind of constraint, in the order in which they are offered. */
const constraintKinds = [follow] as unknown as readonly ConstraintKind[];

export function constraintKind(id: string): ConstraintKind | undefined {
  return constraintKinds.find((kind) => kind.id === id);
}
