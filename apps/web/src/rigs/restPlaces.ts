import { type Rig, restWorlds } from "@kneader/core";

/** Where each control of a rig rests in the world. */
export function restPlaces(rig: Rig): readonly (readonly number[])[] {
  const worlds = restWorlds(rig);
  return rig.controls.map((_, i) => [...worlds.subarray(i * 16 + 12, i * 16 + 15)]);
}
