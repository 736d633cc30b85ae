import { z } from "zod";
import { addConstraint } from "../../constraints/addConstraint.ts";
import { carry, type CarrySettings } from "../../constraints/carry.ts";
import { addControl } from "../../constraints/editRig.ts";
import { freshTie } from "../../constraints/freshTie.ts";
import { KneaderError } from "../../errors.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { placeAt, worldAt } from "../../figure/rigLayout.ts";
import { invertAffine } from "../../maths/matrix.ts";
import { type Control, controlById, figureControls, makeControl, type Rig, transformChannels } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { countedWord, listed } from "../../words.ts";
import type { Operation, Scope } from "../operation.ts";
import { controlsMeant, isWhole, outcome } from "../shared/scope.ts";
import { readPlace } from "./readPlace.ts";
import { plantsOnWorld, standOn } from "./standOn.ts";

const settings = z.object({
  name: z.string().trim().min(1).max(80).default("Carrier").meta({ title: "Name" }),
  pivot: z
    .enum(["control", "middle", "ground", "place"])
    .default("middle")
    .meta({
      title: "Turns about",
      labels: { control: "The first of them", middle: "Their middle", ground: "The ground below their middle", place: "A place" },
    }),
  place: z
    .string()
    .max(120)
    .default("0 0 0")
    .meta({ title: "The place", when: { pivot: "place" }, help: "X Y Z in the world, with blanks between." }),
  frame: z.number().min(-1e6).max(1e6).default(1).meta({ title: "As at frame", unit: "frame", step: 1 }),
});

/** Put an extra control above others. */
export const addCarrier: Operation<z.infer<typeof settings>> = {
  id: "carrier",
  title: "Add a carrier",
  group: "Spaces",
  help: "An extra control carries the picked ones, or the whole figure: what it moves and turns goes on top of what they do. While it rests nothing changes by a bit.",
  guide: {
    use: "Shifts a whole hop to another place, tilts a walk to go uphill, adds a sway to what is animated already, without touching a key.",
    watch: "Feet planted on the world go along when what they hang on is carried. Bake down takes the carrier out and keeps the movement.",
  },
  words: "offset parent group null above move whole shift relocate place elsewhere extra control global carry rotate all",
  suits: ["picked controls"],
  leaves: ["layer", "range"],
  settings,
  situation: ({ frame, scope }) => ({ frame, ...(isWhole(scope) ? { pivot: "ground" as const } : {}) }),
  async run(shot, scope, s) {
    const carried = uppermost(shot.rig, scope, shot);
    const ids = carried.map(({ id }) => id);
    const parent = commonAbove(shot.rig, carried);
    const player = makePlayer(shot);
    player.pose(s.frame);
    const pivot = pivotOf(shot, player.worlds, carried, s);
    const id = freshTie(shot, "carrier");
    const names = new Set(shot.rig.controls.map(({ name }) => name));
    let name = s.name;
    for (let n = 2; names.has(name); n++) name = `${s.name} ${n}`;
    const made = makeControl(id, {
      name,
      parent,
      rest: pivotUnder(player.worlds, parent === null ? -1 : (player.controlIndex.get(parent) as number), pivot),
      channels: [...transformChannels],
      role: "prop",
    });
    const told: CarrySettings = { carrier: id, controls: ids };
    let after = addConstraint(addControl(shot, made), {
      id: freshTie(shot, `carry-${id}`),
      name: `${name} carries ${listed(carried.map((one) => one.name))}`,
      kind: carry.id,
      on: true,
      settings: { ...told },
      curves: {},
    });
    const planted = plantsOnWorld(after, ids);
    after = standOn(after, planted, id);
    const notes = [`New control: ${name}.`];
    if (planted.length > 0) notes.push(`${countedWord(planted.length, "planted end")} stood on the world and will stand on ${name}.`);
    return outcome(shot, after, `Added ${name} above ${listed(carried.map((one) => one.name))}`, { notes });
  },
};

/** Of the picked controls, or the figure and what it handles, those that hang on none of the others. */
function uppermost(rig: Rig, scope: Scope, shot: Shot): Control[] {
  const meant = isWhole(scope) ? new Set(figureControls(rig).map(({ id }) => id)) : controlsMeant(shot, scope);
  const isUnder = ({ parent }: Control): boolean => {
    for (let at = parent; at !== null; at = controlById(rig, at)?.parent ?? null) if (meant.has(at)) return true;
    return false;
  };
  const found = rig.controls.filter((control) => meant.has(control.id) && !isUnder(control));
  if (found.length === 0) throw new KneaderError("nothing-in-scope", "Add a carrier: no control is picked.", "Pick what it should carry.");
  return found;
}

/** The lowest control that all of them hang on; null: the world. */
function commonAbove(rig: Rig, controls: readonly Control[]): string | null {
  const above = (control: Control): string[] => {
    const path: string[] = [];
    for (let at = control.parent; at !== null; at = controlById(rig, at)?.parent ?? null) path.push(at);
    return path;
  };
  const others = controls.slice(1).map((control) => new Set(above(control)));
  return above(controls[0]).find((id) => others.every((path) => path.has(id))) ?? null;
}

function pivotOf(shot: Shot, worlds: Float64Array, carried: readonly Control[], s: z.infer<typeof settings>): number[] {
  if (s.pivot === "place") return readPlace("Add a carrier", s.place);
  const places = carried.map(({ id }) => {
    const at = placeAt(shot.rig.controls.findIndex((one) => one.id === id));
    return [worlds[at], worlds[at + 1], worlds[at + 2]];
  });
  if (s.pivot === "control") return places[0];
  const middle = [0, 1, 2].map((k) => places.reduce((sum, place) => sum + place[k], 0) / places.length);
  return s.pivot === "ground" ? [middle[0], 0, middle[2]] : middle;
}

/** A place of the world in the frame of a control as it stands. */
function pivotUnder(worlds: Float64Array, parent: number, [x, y, z]: readonly number[]): [number, number, number] {
  if (parent < 0) return [x, y, z];
  const m = new Float64Array(16);
  invertAffine(m, 0, worlds, worldAt(parent));
  return [0, 1, 2].map((k) => m[k] * x + m[4 + k] * y + m[8 + k] * z + m[12 + k]) as [number, number, number];
}
