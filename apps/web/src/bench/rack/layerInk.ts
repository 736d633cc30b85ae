import { BASE, type Shot } from "@kneader/core";
import type { Palette } from "../../app/theme.ts";

/** The colour that keys of a layer wear: base motion's, or that of the kind of pass they belong to. */
export function layerInk(shot: Shot, layer: string, palette: Palette): string {
  if (layer === BASE) return palette.teal;
  return shot.passes.find((pass) => pass.id === layer)?.kind === "replaces" ? palette.violet : palette.ochre;
}
