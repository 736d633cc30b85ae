import type { Contact, PlantSettings } from "../../constraints/plant.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { worldAt } from "../../figure/rigLayout.ts";
import { invertAffine, multiplyAffine } from "../../maths/matrix.ts";
import type { Constraint, Shot } from "../../model/shot.ts";

/** A contact of a planted end over some frames where it stands at the first of them, as it is seen. */
export function contactAt(shot: Shot, tie: Constraint, start: number, end: number, ease: number): Contact {
  const { limb, ground } = tie.settings as PlantSettings;
  const player = makePlayer(shot);
  player.pose(start);
  const at = worldAt(player.controlIndex.get(limb[limb.length - 1]) as number);
  const place = player.worlds.slice(at, at + 16);
  if (ground !== null) {
    const inverse = new Float64Array(16);
    invertAffine(inverse, 0, player.worlds, worldAt(player.controlIndex.get(ground) as number));
    multiplyAffine(place, 0, inverse, 0, place, 0);
  }
  return { start, end, easeIn: ease, easeOut: ease, place: [...place] };
}
