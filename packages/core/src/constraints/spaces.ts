import { type Curve, makeKey, Tangent } from "../curve/curve.ts";
import { curveFromKeys } from "../curve/make.ts";
import { channelKey, controlById } from "../model/rig.ts";
import type { Constraint, Shot } from "../model/shot.ts";
import { addConstraint } from "./addConstraint.ts";
import { refuseCircles } from "./graph.ts";
import { type SpaceSettings, space, spaceAt } from "./space.ts";

/** The frame from which a control lives in a space: the id of a control, null for the world. */
export interface Switch {
  readonly frame: number;
  readonly space: string | null;
}

/** The constraint that says where a control lives; null: it lives in what it hangs on. */
export function spaceConstraint(shot: Pick<Shot, "constraints">, control: string): Constraint | null {
  return shot.constraints.find(({ kind, settings }) => kind === space.id && (settings as SpaceSettings).control === control) ?? null;
}

/** Where a control lives from when on, in the order of time; the first holds from the beginning. Never empty. */
export function switchesOf(shot: Pick<Shot, "rig" | "constraints">, control: string): Switch[] {
  const parent = controlById(shot.rig, control)?.parent ?? null;
  const constraint = spaceConstraint(shot, control);
  const curve = constraint?.on ? constraint.curves[channelKey(constraint.id, "space")] : undefined;
  if (!constraint || !curve) return [{ frame: Number.NEGATIVE_INFINITY, space: parent }];
  const { spaces } = constraint.settings as SpaceSettings;
  return tidied(
    Array.from(curve.times, (time, i) => ({
      frame: i === 0 ? Number.NEGATIVE_INFINITY : time,
      space: spaces[spaceAt(spaces.length, curve.values[i])],
    })),
  );
}

/** The space of a control at a frame, by its switches. */
export function spaceOf(switches: readonly Switch[], frame: number): string | null {
  let found = switches[0].space;
  for (const one of switches) if (frame >= one.frame - 1e-6) found = one.space;
  return found;
}

/** Switches in the order of time, of several at one frame the last, without those that change nothing. */
export function tidied(switches: readonly Switch[]): Switch[] {
  const sorted = [...switches].sort((a, b) => a.frame - b.frame);
  const one = sorted.filter(({ frame }, i) => i === sorted.length - 1 || sorted[i + 1].frame > frame + 1e-6);
  return one.filter(({ space: id }, i) => i === 0 || id !== one[i - 1].space);
}

/**
 * The shot in which a control lives where the switches say, its own values left as they are; where that is always what it
 * hangs on, there is no constraint. Errors: `not-found`, `cycle` with the names of all in the circle.
 */
export function withSwitches(shot: Shot, control: string, given: readonly Switch[]): Shot {
  const switches = tidied(given);
  const parent = controlById(shot.rig, control)?.parent ?? null;
  const present = spaceConstraint(shot, control);
  if (switches.every((one) => one.space === parent))
    return present ? { ...shot, constraints: shot.constraints.filter((one) => one !== present) } : shot;
  const before = present ? (present.settings as SpaceSettings).spaces : [parent];
  const used = new Set(switches.map((one) => one.space));
  // What it hangs on stays in the list, the others as long as they are used.
  const spaces = [...new Set([...before.filter((id) => id === parent || used.has(id)), ...used])];
  const id = present?.id ?? `space-${control}`;
  const name = present?.name ?? controlById(shot.rig, control)?.name ?? control;
  const first = Math.min(shot.range.start, ...switches.slice(1).map(({ frame }) => frame - 1));
  const curve: Curve = curveFromKeys(
    switches.map((one, i) => makeKey(i === 0 ? first : one.frame, spaces.indexOf(one.space), Tangent.stepped)),
  );
  const curves = { [channelKey(id, "space")]: curve };
  const settings: SpaceSettings = { control, spaces };
  if (!present) return addConstraint(shot, { id, name, kind: space.id, on: true, settings: { ...settings }, curves });
  const after = {
    ...shot,
    constraints: shot.constraints.map((one) => (one === present ? { ...one, on: true, settings: { ...settings }, curves } : one)),
  };
  refuseCircles(after);
  return after;
}
