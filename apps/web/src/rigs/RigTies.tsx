import { type Constraint, constraintKind, controlById, missingOf, type Rig, type Shot, spaceName, tiesOf } from "@kneader/core";
import { useMemo } from "react";

/** The spaces controls of a rig live in, its limbs that reach or stand planted, and whatever else leads it in this shot. */
export function RigTies({ shot }: { shot: Shot }) {
  const lines = useMemo(() => shot.constraints.map((one) => ({ id: one.id, said: sayTie(shot.rig, one) })), [shot.rig, shot.constraints]);
  if (lines.length === 0) return null;
  return (
    <section className="rig-ties" aria-label="Spaces and reaches">
      <h3>Spaces and reaches</h3>
      <ul>
        {lines.map(({ id, said }) => (
          <li key={id}>{said}</li>
        ))}
      </ul>
    </section>
  );
}

/** A constraint in a sentence: who goes after whom. */
function sayTie(rig: Rig, one: Constraint): string {
  const nameOf = (id: string) => controlById(rig, id)?.name ?? `${id} (gone)`;
  const { reads, writes } = tiesOf(one);
  const gone = missingOf({ rig }, one).length > 0 ? ", which has no say as it is gone" : "";
  if (one.kind === "space") {
    const { control, spaces } = one.settings as { control: string; spaces: (string | null)[] };
    return `${nameOf(control)} may live in ${spaces.map((id) => spaceName({ rig }, id)).join(", ")}${gone}`;
  }
  const title = constraintKind(one.kind)?.title.toLowerCase() ?? one.kind;
  if (one.kind === "reach" || one.kind === "plant")
    return `${writes.map(nameOf).join(" · ")}: ${title}${reads.length > 0 ? `, ${reads.map(nameOf).join(", ")}` : ""}${gone}`;
  return `${writes.map(nameOf).join(", ")}: ${title}, ${reads.map(nameOf).join(", ")}${gone}`;
}
