import { type Constraint, controlById, tiesOf, type Shot } from "@kneader/core";

/** A control that leads others and has no body: where one takes hold of it, a mark is drawn. */
export interface Goal {
  readonly control: string;
  readonly name: string;
  /** What a limb bends toward is drawn otherwise than what it goes after. */
  readonly isBend: boolean;
}

const bendOf = ({ settings }: Constraint): unknown => (settings as { toward?: unknown }).toward;

/** What the ties of a shot go after that nothing is drawn of; set pieces and cameras stay out of the way. */
export function goalsOf({ rig, constraints }: Pick<Shot, "rig" | "constraints">, isDrawn: (control: string) => boolean): Goal[] {
  const found = new Map<string, Goal>();
  for (const constraint of constraints)
    for (const id of tiesOf(constraint).reads) {
      const control = controlById(rig, id);
      if (!control || (control.role !== "figure" && control.role !== "prop") || isDrawn(id)) continue;
      const isBend = bendOf(constraint) === id && (found.get(id)?.isBend ?? true);
      found.set(id, { control: id, name: control.name, isBend });
    }
  return [...found.values()];
}
