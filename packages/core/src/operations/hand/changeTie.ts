import { z } from "zod";
import { carry, type CarrySettings } from "../../constraints/carry.ts";
import { refuseCircles } from "../../constraints/graph.ts";
import { withoutMade } from "../../constraints/withoutMade.ts";
import { constraintKind } from "../../constraints/kinds.ts";
import type { Curve } from "../../curve/curve.ts";
import { KneaderError } from "../../errors.ts";
import { curveSchema } from "../../formats/curveJson.ts";
import { channelKey } from "../../model/rig.ts";
import { type Constraint, markColours, type Shot, withConstraint } from "../../model/shot.ts";
import { withoutCarrier } from "../spaces/standOn.ts";
import { byHand } from "./handOperation.ts";

const curve = z.union([z.custom<Curve>((given) => (given as Curve | null)?.times instanceof Float64Array), curveSchema]);

const settings = z.object({
  tie: z.string(),
  /** Null takes it away: what it led is where its own keys put it. */
  to: z
    .object({
      name: z.string().trim().min(1),
      on: z.boolean(),
      solo: z.boolean(),
      colour: z.enum(markColours).nullable(),
      strength: curve,
      settings: z.record(z.string(), z.unknown()),
    })
    .partial()
    .nullable(),
});
type Told = z.infer<typeof settings>["to"];

function tieOf(shot: Shot, id: string): Constraint {
  const found = shot.constraints.find((one) => one.id === id);
  if (!found) throw new KneaderError("not-found", `The shot has no constraint "${id}".`);
  return found;
}

/** What was made for it goes, too. A carrier goes with what it did: what stood on it stands on the world again, as it did before it was there. */
function letGoOf(shot: Shot, tie: Constraint): Shot {
  const after = { ...shot, constraints: shot.constraints.filter((one) => one !== tie) };
  return tie.kind === carry.id ? withoutCarrier(after, (tie.settings as CarrySettings).carrier) : withoutMade(after, [tie]);
}

function sayChange({ id, name, curves }: Constraint, to: NonNullable<Told>): string {
  if (to.name !== undefined) return `Rename to ${to.name}`;
  if (to.on !== undefined) return `${name} ${to.on ? "on" : "off"}`;
  if (to.solo !== undefined) return `${name} ${to.solo ? "alone" : "with the others"}`;
  if (to.colour !== undefined) return `Colour of ${name}`;
  if (to.settings !== undefined) return `Contacts of ${name}`;
  const before = curves[channelKey(id, "strength")]?.times.length ?? 1;
  const now = to.strength?.times.length ?? 1;
  if (now > before) return `Key the strength of ${name}`;
  return now < before ? `Remove a strength key of ${name}` : `Strength of ${name}`;
}

/** A constraint's switches, name, colour, strength and what it is told; or its end. */
export const changeTie = byHand<z.infer<typeof settings>>({
  id: "change-tie",
  title: "Change a constraint",
  help: "Changes what a constraint is told, or lets go of what it leads.",
  settings,
  named: true,
  edit(shot, _scope, { tie, to }) {
    const found = tieOf(shot, tie);
    if (to === null) return { shot: letGoOf(shot, found), summary: `Let go: ${found.name}` };
    const { strength, ...fields } = to;
    if (to.settings) {
      const checked = constraintKind(found.kind)?.settings.safeParse(to.settings);
      if (checked?.success === false) throw new KneaderError("bad-setting", `${found.name}: ${checked.error.issues[0].message}.`);
    }
    const after = withConstraint(shot, tie, (one) => ({
      ...one,
      ...fields,
      curves: strength ? { ...one.curves, [channelKey(tie, "strength")]: strength } : one.curves,
    }));
    if (to.settings) refuseCircles(after);
    return { shot: after, summary: sayChange(found, to) };
  },
});
