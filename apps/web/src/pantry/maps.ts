import type { Clip, HandMap, Rig } from "@kneader/core";
import { mapStore } from "../storage/stores.ts";

/** The two figures a map is for, by what they are made of: the same for every action of one and every shot of the other. */
function nameOf({ controls }: Pick<Clip, "controls">, rig: Rig): string {
  const of = (list: readonly { id: string; role: string }[]) =>
    list
      .filter(({ role }) => role === "figure" || role === "prop")
      .map(({ id }) => id)
      .join(",");
  return `${of(controls)} > ${of(rig.controls)}`;
}

/** What was said by hand for two figures; null: nothing. */
export const keptMap = (clip: Pick<Clip, "controls">, rig: Rig): Promise<HandMap | null> => mapStore.getItem<HandMap>(nameOf(clip, rig));

export async function keepMap(clip: Pick<Clip, "controls">, rig: Rig, map: HandMap): Promise<void> {
  const name = nameOf(clip, rig);
  if (Object.keys(map).length === 0) await mapStore.removeItem(name);
  else await mapStore.setItem(name, map);
}

const FORMAT = "kneader-map";

export function mapToText(map: HandMap): string {
  return JSON.stringify({ format: FORMAT, version: 1, map }, null, 2);
}

/** A map from a file's text. Errors: in words, when it is none. */
export function mapFromText(text: string): HandMap {
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    throw new Error("This file is no map: it is not JSON.");
  }
  const { format, map } = (read ?? {}) as { format?: unknown; map?: unknown };
  const isMap = typeof map === "object" && map !== null && Object.values(map).every((to) => to === null || typeof to === "string");
  if (format !== FORMAT || !isMap) throw new Error("This file is no map of who takes whose motion.");
  return map as HandMap;
}
