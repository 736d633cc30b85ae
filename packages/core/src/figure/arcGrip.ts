import { type Control, controlById } from "../model/rig.ts";
import type { Player } from "./player.ts";
import { type Grip, movesByItself, type PullBy } from "./pull.ts";
import { moveAt } from "./rigLayout.ts";

/**
 * What is pulled, and how, so that a control's own place goes somewhere: what moves by itself is moved; else what it hangs on
 * turns, or, reaching, the links above it do. The player is to stand at the frame.
 */
export function arcGrip(player: Player, control: string, by: PullBy): { readonly grip: Grip; readonly by: PullBy } {
  const own = controlById(player.shot.rig, control) as Control;
  if (movesByItself(player.shot, own) || by === "reach" || own.parent === null) return { grip: { control, spot: [0, 0, 0] }, by: "reach" };
  const at = moveAt(player.controlIndex.get(control) as number);
  const [x, y, z] = own.rest.map((rest, k) => rest + player.values[at + k]);
  return { grip: { control: own.parent, spot: [x, y, z] }, by: "turn" };
}
