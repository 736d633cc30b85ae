import type { Curve } from "../curve/curve.ts";
import { KneaderError } from "../errors.ts";
import { restUnder } from "../figure/restPlace.ts";
import { type ChannelKey, channelTitle, type Control, controlById, type Rig, type Sides, splitChannelKey } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { refuseCircles } from "./graph.ts";
import { tiesOf } from "./ledControls.ts";

/*
 * The only ways in which the rig of a shot changes. Each answers the whole shot, so that nothing points at what is gone.
 * Where controls rest stays; where they move to does not, if they hang on something else then: who wants that bakes.
 */

function controlOf(shot: Shot, id: string): Control {
  const control = controlById(shot.rig, id);
  if (!control) throw new KneaderError("not-found", `The rig has no control "${id}".`);
  return control;
}

/** Controls with those above before those below, otherwise in the order in which they stand. Errors: `cycle`. */
function inOrder(controls: readonly Control[]): Control[] {
  const ordered: Control[] = [];
  const placed = new Set<string>();
  let left = controls;
  while (left.length > 0) {
    const next = left.filter(({ parent }) => parent === null || placed.has(parent));
    if (next.length === 0)
      throw new KneaderError("cycle", `"${left[0].name}" would hang on itself.`, "Choose a control that does not hang on it.");
    const taken = next.length === left.length ? next : next.slice(0, 1);
    for (const control of taken) {
      ordered.push(control);
      placed.add(control.id);
    }
    left = left.filter(({ id }) => !placed.has(id));
  }
  return ordered;
}

function withControls(shot: Shot, controls: readonly Control[]): Shot {
  const changed = { ...shot, rig: { ...shot.rig, controls: inOrder(controls) } };
  refuseCircles(changed);
  return changed;
}

/** Put controls under another one (null: the world), resting where they did. Errors: `not-found`, `cycle`. */
export function reparent(shot: Shot, ids: readonly string[], parent: string | null): Shot {
  if (parent !== null) controlOf(shot, parent);
  const moved = new Set(ids.map((id) => controlOf(shot, id).id));
  const controls = shot.rig.controls.map((control) =>
    moved.has(control.id) ? { ...control, parent, ...restUnder(shot.rig, control, parent) } : control,
  );
  return withControls(shot, controls);
}

/** Put a new control into the rig, where it says it hangs and rests. Errors: `in-use` for a taken id, `not-found`. */
export function addControl(shot: Shot, made: Control): Shot {
  if (controlById(shot.rig, made.id)) throw new KneaderError("in-use", `The rig has a control "${made.id}" already.`);
  if (made.parent !== null) controlOf(shot, made.parent);
  return withControls(shot, [...shot.rig.controls, made]);
}

/** Take a control out: what hung on it hangs on the one above; its curves, marks and constraints go with it. Errors: `not-found`. */
export function takeOut(shot: Shot, id: string): Shot {
  const gone = controlOf(shot, id);
  const below = shot.rig.controls.filter(({ parent }) => parent === id).map((control) => control.id);
  const freed = below.length > 0 ? reparent(shot, below, gone.parent) : shot;
  const stays = (key: ChannelKey) => splitChannelKey(key).control !== id;
  const kept = (curves: Readonly<Record<ChannelKey, Curve>>) => Object.fromEntries(Object.entries(curves).filter(([key]) => stays(key)));
  const rig: Rig = {
    ...freed.rig,
    controls: freed.rig.controls
      .filter((control) => control.id !== id)
      .map((control) => (control.partner === id ? { ...control, partner: null } : control)),
  };
  return {
    ...freed,
    rig,
    base: kept(freed.base),
    passes: freed.passes.map((pass) => ({ ...pass, curves: kept(pass.curves), members: pass.members?.filter(stays) ?? null })),
    // What only looks at it stays, without a say: its row tells that its target is gone.
    constraints: freed.constraints.filter((constraint) => !tiesOf(constraint).writes.includes(id)),
    locked: freed.locked.filter(stays),
    sets: freed.sets.map((set) => ({ ...set, channels: set.channels.filter(stays) })),
  };
}

/** What may be said of controls for mirroring, by id. */
export type Pairing = Readonly<Record<string, Partial<Pick<Control, "partner" | "mirror">>>>;

/**
 * Say of several controls at once who their partners are and how they take the image; `mirror: undefined` by the rest pose.
 * Errors: `not-found`; `in-use` where a control would be the partner of two.
 */
export function pairControls(shot: Shot, said: Pairing): Shot {
  for (const [id, { partner }] of Object.entries(said)) for (const one of [id, partner ?? id]) controlOf(shot, one);
  const controls = shot.rig.controls.map((control): Control => {
    if (!(control.id in said)) return control;
    const { mirror, ...rest } = { ...control, ...said[control.id] };
    return mirror === undefined ? rest : { ...rest, mirror };
  });
  const after = { ...shot.rig, controls };
  for (const { id, name, partner } of controls) {
    if (partner === null || partner === id) continue;
    const other = controlById(after, partner) as Control;
    if (other.partner === id) continue;
    // Only what was said now is refused: a file may say anything.
    if (!(id in said) && !(partner in said)) continue;
    const third = other.partner === null ? null : controlById(after, other.partner);
    throw new KneaderError(
      "in-use",
      `${other.name} cannot be the partner of ${name}: ${third === null ? "it is never mirrored" : third?.id === other.id ? "it is its own partner" : `it is the partner of ${third?.name} already`}.`,
      "Let go of that partner first.",
    );
  }
  return { ...shot, rig: after };
}

/** Say where left meets right at rest; null: as found. Errors: `bad-setting`. */
export function setSides(shot: Shot, sides: Sides | null): Shot {
  const { sides: _, ...rig } = shot.rig;
  if (sides === null) return { ...shot, rig };
  if (!Number.isFinite(sides.at)) throw new KneaderError("bad-setting", "The middle of the figure is at no number.");
  return { ...shot, rig: { ...rig, sides } };
}

/**
 * Say how far joints turn, by control and channel; null: nothing is said of that channel. Errors: `not-found`; `bad-setting` for
 * a channel that is no turn of the control, or a range that ends before it begins.
 */
export function setRanges(shot: Shot, said: Readonly<Record<string, Readonly<Record<string, readonly [number, number] | null>>>>): Shot {
  for (const [id, ranges] of Object.entries(said)) {
    const { name, channels } = controlOf(shot, id);
    for (const [channel, range] of Object.entries(ranges)) {
      if (!channel.startsWith("rotate") || !channels.includes(channel))
        throw new KneaderError("bad-setting", `${name} has no turn "${channel}".`);
      if (range && !(Number.isFinite(range[0]) && Number.isFinite(range[1]) && range[0] <= range[1]))
        throw new KneaderError("bad-setting", `${channelTitle(shot.rig, `${id}.${channel}`)} cannot go from ${range[0]}° to ${range[1]}°.`);
    }
  }
  const controls = shot.rig.controls.map((control): Control => {
    if (!(control.id in said)) return control;
    const { ranges: before, ...rest } = control;
    const ranges = Object.fromEntries(
      Object.entries({ ...before, ...said[control.id] }).filter((entry): entry is [string, [number, number]] => entry[1] !== null),
    );
    return Object.keys(ranges).length > 0 ? { ...rest, ranges } : rest;
  });
  return { ...shot, rig: { ...shot.rig, controls } };
}
