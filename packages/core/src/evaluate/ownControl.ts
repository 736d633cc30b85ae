import { constraintKind } from "../constraints/kinds.ts";
import { type Control, makeControl } from "../model/rig.ts";
import { BASE, type Shot } from "../model/shot.ts";
import { computedKind } from "../passes/kinds.ts";

const made = new Map<string, Control>();

function controlNamed(id: string, name: string, channels: readonly string[]): Control {
  let control = made.get(id);
  if (control?.name !== name || control.channels.length !== channels.length) {
    control = makeControl(id, { name, channels, part: "pass" });
    made.set(id, control);
  }
  return control;
}

/**
 * The settings over time of a computed pass, or of a constraint, as the channels of one control, so that they are keyed
 * like any other; null for other layers.
 */
export function ownControl(shot: Pick<Shot, "passes" | "constraints">, layer: string): Control | null {
  if (layer === BASE) return null;
  const constraint = shot.constraints.find(({ id }) => id === layer);
  if (constraint) {
    const channels = constraintKind(constraint.kind)?.channels(constraint.settings) ?? [];
    return controlNamed(
      constraint.id,
      constraint.name,
      channels.map(({ name }) => name),
    );
  }
  const own = computedKind(shot.passes.find((pass) => pass.id === layer)?.kind ?? "")?.own;
  return own ? controlNamed(own.name, own.name, own.channels) : null;
}

/** The controls whose channels a layer may have curves on. */
export function layerControls(shot: Shot, layer: string): readonly Control[] {
  const own = ownControl(shot, layer);
  return own ? [own] : shot.rig.controls;
}
