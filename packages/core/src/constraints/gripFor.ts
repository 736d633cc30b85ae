import type { Player } from "../figure/player.ts";
import type { Grip, Place } from "../figure/pull.ts";
import { worldAt } from "../figure/rigLayout.ts";
import { invertAffine } from "../maths/matrix.ts";
import { controlById } from "../model/rig.ts";
import { activeConstraints } from "./activeConstraints.ts";
import { constraintKind } from "./kinds.ts";

const inverse = new Float64Array(16);

/**
 * What is taken hold of when a place of a control is pulled (in the world): that control; or, of one that has no say at this
 * frame as something else rules it, what it goes after, unless that is scenery. The player is to stand at the frame.
 */
export function gripFor(player: Player, frame: number, control: string, place: Place): Grip {
  const held = leaderOf(player, frame, control) ?? control;
  invertAffine(inverse, 0, player.worlds, worldAt(player.controlIndex.get(held) as number));
  const [x, y, z] = place;
  const spot = [0, 1, 2].map((k) => inverse[k] * x + inverse[4 + k] * y + inverse[8 + k] * z + inverse[12 + k]);
  return { control: held, spot: [spot[0], spot[1], spot[2]] };
}

/** The control that a ruled one goes after at a frame, if its kind names one that is posed. */
export function leaderOf({ shot, ruledAt }: Player, frame: number, control: string): string | null {
  if (!ruledAt(frame).has(control)) return null;
  for (const { kind, settings } of [...activeConstraints(shot)].reverse()) {
    const leader = constraintKind(kind)?.pulledFor?.(settings, control) ?? null;
    const role = leader === null ? undefined : controlById(shot.rig, leader)?.role;
    if (leader !== null && (role === "figure" || role === "prop")) return leader;
  }
  return null;
}
