import { activeConstraints } from "../../constraints/activeConstraints.ts";
import { plant, type PlantSettings } from "../../constraints/plant.ts";
import { space, type SpaceSettings } from "../../constraints/space.ts";
import { switchesOf } from "../../constraints/spaces.ts";
import { type ChannelKey, controlById, splitChannelKey } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { listed } from "../../words.ts";

/**
 * What to tell where poses come to other frames or sides: of controls that live in one space after another, whose keys say
 * another place there, and of ends that stay planted where they stood, unless
 * their contacts went along. `keys` are the channels meant.
 */
export function sayTies(shot: Shot, keys: Iterable<ChannelKey>, after: Shot = shot): string[] {
  if (shot.constraints.length === 0) return [];
  const controls = new Set([...keys].map((key) => splitChannelKey(key).control));
  const nameOf = (id: string) => controlById(shot.rig, id)?.name ?? id;
  const lodgers: string[] = [];
  const planted: string[] = [];
  for (const { kind, settings } of activeConstraints(shot)) {
    if (kind === space.id) {
      const { control } = settings as SpaceSettings;
      const [{ space: first }] = switchesOf(shot, control);
      const lives = switchesOf(shot, control).length > 1 || first !== (controlById(shot.rig, control)?.parent ?? null);
      if (controls.has(control) && lives) lodgers.push(nameOf(control));
    }
    if (kind === plant.id && after.constraints === shot.constraints) {
      const { limb } = settings as PlantSettings;
      if (limb.some((id) => controls.has(id))) planted.push(nameOf(limb[limb.length - 1]));
    }
  }
  const said: string[] = [];
  if (lodgers.length > 0)
    said.push(
      `${listed(lodgers)} ${lodgers.length === 1 ? "lives" : "live"} in a space of ${lodgers.length === 1 ? "its" : "their"} own: in another space the same values are another place.`,
    );
  if (planted.length > 0)
    said.push(
      `${listed(planted)} ${planted.length === 1 ? "stays" : "stay"} planted where ${planted.length === 1 ? "it" : "they"} stood; plant anew afterwards, or bake down before.`,
    );
  return said;
}
