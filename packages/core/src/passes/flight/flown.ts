import { bodyOf } from "../../figure/anatomy/bodyOf.ts";
import { centreOf, massesOf } from "../../figure/anatomy/masses.ts";
import { skeletonOf } from "../../figure/anatomy/skeleton.ts";
import { travellers } from "../../figure/carryOn.ts";
import { layoutOf, placeAt } from "../../figure/rigLayout.ts";
import { quatMultiply } from "../../maths/rotation.ts";
import { turnVector } from "../../maths/vector.ts";
import { type Control, controlById, isScenery, moveChannels, type Rig } from "../../model/rig.ts";
import type { FlightSettings } from "./flightSettings.ts";
import type { Place } from "../../figure/pull.ts";

/** What flies, and what is moved for it. */
export interface Flown {
  /** Controls that are moved, each in the frame of the one above it. */
  readonly movers: readonly Control[];
  /** The control that turns evenly, and its index; null when there is none. */
  readonly turner: Control | null;
  /** Where what flies is, of a posed figure's matrices. */
  place(worlds: Float64Array): Place;
  /** The same, had the turner turned by a quaternion of the world more. */
  turnedPlace(worlds: Float64Array, by: Float64Array): Place;
}

/** Can a control be moved at all? */
const moves = ({ channels }: Control): boolean => moveChannels.every((channel) => channels.includes(channel));

/** What flies as the settings say; null when it is not in the rig, or nothing there can be moved. */
export function flownOf(rig: Rig, { flies, control, along }: Pick<FlightSettings, "flies" | "control" | "along">): Flown | null {
  const carried = along.flatMap((id) => controlById(rig, id) ?? []).filter(moves);
  if (flies === "control") {
    const flown = controlById(rig, control);
    const mover = flown && nearestMover(rig, flown);
    if (!flown || !mover) return null;
    const at = placeAt(layoutOf(rig).controlIndex.get(control) as number);
    const place = (worlds: Float64Array): Place => [worlds[at], worlds[at + 1], worlds[at + 2]];
    return { movers: [mover, ...carried.filter(({ id }) => id !== mover.id)], turner: flown, place, turnedPlace: place };
  }
  const figure = travellers(rig).filter((one) => one.role === "figure" && moves(one));
  if (figure.length === 0) return null;
  const { parts } = massesOf(rig);
  const body = bodyOf(skeletonOf(rig));
  const turner = body ? skeletonOf(rig).controls[body.trunk[0]] : figure[0];
  const inside = underOf(rig, turner.id);
  const [own, others] = [parts.filter((part) => inside[part.control]), parts.filter((part) => !inside[part.control])];
  const at = placeAt(layoutOf(rig).controlIndex.get(turner.id) as number);
  const [centre, rest] = [new Float64Array(3), new Float64Array(3)];
  return {
    movers: [...figure, ...carried.filter(({ id }) => !figure.some((one) => one.id === id))],
    turner,
    place(worlds) {
      centreOf(parts, worlds, centre);
      return [centre[0], centre[1], centre[2]];
    },
    turnedPlace(worlds, by) {
      if (own.length === 0) return this.place(worlds);
      const share = centreOf(own, worlds, centre);
      for (let k = 0; k < 3; k++) centre[k] -= worlds[at + k];
      turnVector(centre, 0, by, 0, centre, 0);
      for (let k = 0; k < 3; k++) centre[k] += worlds[at + k];
      const left = others.length > 0 ? centreOf(others, worlds, rest) : 0;
      const mixed = (k: number) => (centre[k] * share + rest[k] * left) / (share + left);
      return [mixed(0), mixed(1), mixed(2)];
    },
  };
}

/** A control itself where it has moves, else the nearest above it that has; none of the set. */
function nearestMover(rig: Rig, control: Control): Control | undefined {
  for (let at: Control | undefined = control; at; at = at.parent === null ? undefined : controlById(rig, at.parent))
    if (moves(at) && !isScenery(at)) return at;
  return undefined;
}

/** By control: does it hang on one, or is it that one? */
function underOf(rig: Rig, id: string): readonly boolean[] {
  const { parents, controlIndex } = layoutOf(rig);
  const under: boolean[] = [];
  rig.controls.forEach((_, i) => {
    under[i] = i === controlIndex.get(id) || (parents[i] >= 0 && under[parents[i]]);
  });
  return under;
}

const back = new Float64Array(4);

/** What turns one quaternion of the world into another: `to` times the inverse of `from`. */
export function turnFromTo(out: Float64Array, from: Float64Array, to: Float64Array): void {
  for (let k = 0; k < 3; k++) back[k] = -from[k];
  back[3] = from[3];
  quatMultiply(out, 0, to, 0, back, 0);
}
