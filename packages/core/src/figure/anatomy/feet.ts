import type { Rig } from "../../model/rig.ts";
import { limbEnds } from "../limbEnds.ts";
import { layoutOf, placeAt } from "../rigLayout.ts";
import { bodyOf } from "./bodyOf.ts";
import { fourFeet } from "./stance.ts";
import { skeletonOf } from "./skeleton.ts";

/** The ends of the legs: by their names, or where there are none so called by the shape of the rest pose; with the toes. */
export function feetOf(rig: Rig): string[] {
  const { controls, children, index } = skeletonOf(rig);
  const named = limbEnds(rig, "feet").map(({ id }) => id);
  const body = bodyOf(skeletonOf(rig));
  const legs = body ? Object.values(body.legs).map(({ chain, end }) => chain[end]) : fourFeet(skeletonOf(rig));
  const shaped = legs.map((i) => controls[i].id);
  const ends = named.length > 0 ? named : shaped;
  return ends.flatMap((id) => [id, ...children[index.get(id) as number].slice(0, 1).map((child) => controls[child].id)]);
}

/** The ends of the arms: by their names, or where there are none so called by the shape of the rest pose. */
export function handsOf(rig: Rig): string[] {
  const named = limbEnds(rig, "hands").map(({ id }) => id);
  const arms = bodyOf(skeletonOf(rig))?.arms;
  return named.length > 0 || !arms ? named : Object.values(arms).map(({ chain, end }) => rig.controls[chain[end]].id);
}

/** Where a figure touches the ground, of its posed matrices: among its feet, at the height of the lowest; null where it has none. */
export function standingPlace(rig: Rig, worlds: Float64Array): [number, number, number] | null {
  const feet = feetOf(rig).map((id) => placeAt(layoutOf(rig).controlIndex.get(id) as number));
  if (feet.length === 0) return null;
  const mean = (k: number) => feet.reduce((sum, at) => sum + worlds[at + k], 0) / feet.length;
  return [mean(0), Math.min(...feet.map((at) => worlds[at + 1])), mean(2)];
}
