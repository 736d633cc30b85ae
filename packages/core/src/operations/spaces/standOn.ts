import { takeOut } from "../../constraints/editRig.ts";
import { tiesOf } from "../../constraints/ledControls.ts";
import { plant, type PlantSettings } from "../../constraints/plant.ts";
import { restWorlds } from "../../figure/restPlace.ts";
import { worldAt } from "../../figure/rigLayout.ts";
import { invertAffine, multiplyAffine } from "../../maths/matrix.ts";
import { controlById, type Rig } from "../../model/rig.ts";
import { type Constraint, type Shot, withConstraint } from "../../model/shot.ts";

/** Ends planted on the world whose limbs hang on some controls. */
export function plantsOnWorld({ rig, constraints }: Shot, above: readonly string[]): Constraint[] {
  return constraints.filter(({ kind, settings }) => {
    const { ground, limb } = settings as PlantSettings;
    return kind === plant.id && ground === null && hangsOn(rig, limb[0], above);
  });
}

function hangsOn(rig: Rig, id: string, above: readonly string[]): boolean {
  for (let at: string | null = id; at !== null; at = controlById(rig, at)?.parent ?? null) if (above.includes(at)) return true;
  return false;
}

/** Let planted ends stand on a control (null: the world) where they stand while it rests. */
export function standOn(shot: Shot, planted: readonly Constraint[], ground: string | null): Shot {
  const rest = restWorlds(shot.rig);
  const at = (id: string) => worldAt(shot.rig.controls.findIndex((one) => one.id === id));
  return planted.reduce((after, { id }) => {
    return withConstraint(after, id, (one) => {
      const told = one.settings as PlantSettings;
      const contacts = told.contacts.map((contact) => {
        const place = Float64Array.from(contact.place);
        if (told.ground !== null) multiplyAffine(place, 0, rest, at(told.ground), place, 0);
        if (ground !== null) {
          const inverse = new Float64Array(16);
          invertAffine(inverse, 0, rest, at(ground));
          multiplyAffine(place, 0, inverse, 0, place, 0);
        }
        return { ...contact, place: [...place] };
      });
      return { ...one, settings: { ...told, ground, contacts } };
    });
  }, shot);
}

/** Take a carrier that carries nothing any more out of the rig, unless something else goes after it. */
export function withoutCarrier(shot: Shot, id: string): Shot {
  const stood = shot.constraints.filter(({ kind, settings }) => kind === plant.id && (settings as PlantSettings).ground === id);
  const after = standOn(shot, stood, null);
  const used = after.constraints.some((one) => [...tiesOf(one).reads, ...tiesOf(one).writes].includes(id));
  const hung = after.rig.controls.some(({ parent }) => parent === id);
  return used || hung || !controlById(after.rig, id) ? shot : takeOut(after, id);
}
