import type { Control } from "../model/rig.ts";
import { BASE, type Shot } from "../model/shot.ts";
import { computedKind } from "./kinds.ts";

const made = new Map<string, Control>();

/** The settings over time of a computed pass as the channels of one control, so that they are keyed like any other; null for other layers. */
export function ownControl(shot: Pick<Shot, "passes">, layer: string): Control | null {
  if (layer === BASE) return null;
  const own = computedKind(shot.passes.find((pass) => pass.id === layer)?.kind ?? "")?.own;
  if (!own) return null;
  let control = made.get(own.name);
  if (!control) {
    control = {
      id: own.name,
      name: own.name,
      parent: null,
      rest: [0, 0, 0],
      restTurn: [0, 0, 0, 1],
      order: "XYZ",
      channels: own.channels,
      partner: null,
      part: "pass",
    };
    made.set(own.name, control);
  }
  return control;
}

/** The controls whose channels a layer may have curves on. */
export function layerControls(shot: Shot, layer: string): readonly Control[] {
  const own = ownControl(shot, layer);
  return own ? [own] : shot.rig.controls;
}
