import type { Player } from "./player.ts";
import type { Control } from "../model/rig.ts";
import { writeLocal } from "./localMatrix.ts";

/** A control's own matrix at a frame, as its channels say with all passes; the player is put to the frame and posed again. */
export function ownMatrix(player: Player, control: Control, frame: number): Float64Array {
  const out = new Float64Array(16);
  player.readValues(frame);
  writeLocal(out, control, player.values, player.controlIndex.get(control.id) as number);
  player.pose(frame);
  return out;
}
