import {
  type Constraint,
  type Contact,
  channelKey,
  constantCurve,
  type Curve,
  contactAt,
  operations,
  type PlantSettings,
  type Shot,
  type Switch,
  switchesOf,
  WHOLE_FIGURE,
  withConstraint,
} from "@kneader/core";
import { clock } from "../../clock.ts";
import { currentDocument } from "../../documents.ts";
import { tell } from "../../notices.ts";
import { performOrTell } from "../../perform.ts";
import type { Weighted } from "../passes/WeightKeys.tsx";

type TieChange = NonNullable<Parameters<typeof operations.changeTie.run>[2]["to"]>;

export function changeTie(tie: string, to: TieChange): void {
  performOrTell(operations.changeTie, { tie, to });
}

/** Let go of what a constraint leads: it is where its own keys put it. */
export function letGo(tie: string): void {
  performOrTell(operations.changeTie, { tie, to: null });
}

/** The strength of a constraint over time; constant where it was never keyed. */
export function strengthOf({ id, curves }: Constraint): Curve {
  return curves[channelKey(id, "strength")] ?? constantCurve(1, currentDocument()?.range.start ?? 1);
}

/** A constraint as something weighted: by its strength. */
export const weightedTie = (tie: Constraint): Weighted => ({
  weight: strengthOf(tie),
  shown: (shot, weight) =>
    withConstraint(shot, tie.id, (one) => ({ ...one, curves: { ...one.curves, [channelKey(tie.id, "strength")]: weight } })),
  change: (strength) => changeTie(tie.id, { strength }),
});

const told = (switches: readonly Switch[]) => switches.map(({ frame, space }) => ({ frame: Number.isFinite(frame) ? frame : null, space }));

/** The shot with other switches of a control, for a look; null where that cannot be. */
export function withMovedSwitches(shot: Shot, control: string, switches: readonly Switch[]): Shot | null {
  try {
    return operations.moveSwitches.run(shot, WHOLE_FIGURE, { control, switches: told(switches), keep: "poses" }).shot;
  } catch {
    // Why it cannot be is told when it is let go.
    return null;
  }
}

export function moveSwitches(control: string, switches: readonly Switch[], keep: "poses" | "values" = "poses"): void {
  performOrTell(operations.moveSwitches, { control, switches: told(switches), keep });
}

/** Take out the switch at a frame; what was before it goes on. */
export function removeSwitch(control: string, frame: number, keep: "poses" | "values" = "poses"): void {
  const shot = currentDocument();
  if (!shot) return;
  moveSwitches(
    control,
    switchesOf(shot, control).filter((one) => one.frame !== frame),
    keep,
  );
}

/** Frames a contact that is put in by hand takes. */
const CONTACT = 8;
const EASE = 3;

/** Put a contact of a planted end at the playhead, up to the next one. */
export function addContact(tie: Constraint): void {
  const shot = currentDocument();
  if (!shot) return;
  const { contacts } = tie.settings as PlantSettings;
  const start = Math.round(clock.frame);
  if (contacts.some((one) => start >= one.start && start <= one.end)) {
    tell(`Frame ${start} lies in a contact already.`);
    return;
  }
  const next = Math.min(shot.range.end + 1, ...contacts.filter((one) => one.start > start).map((one) => one.start));
  const made = contactAt(shot, tie, start, Math.max(start, Math.min(start + CONTACT, next - 1)), EASE);
  changeContacts(
    tie,
    [...contacts, made].sort((a, b) => a.start - b.start),
  );
}

export function changeContacts(tie: Constraint, contacts: readonly Contact[]): void {
  changeTie(tie.id, { settings: { ...tie.settings, contacts } });
}
