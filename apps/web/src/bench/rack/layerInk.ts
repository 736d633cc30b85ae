import { BASE, type MarkColour, type Shot } from "@kneader/core";
import type { Palette } from "../../app/theme.ts";

/** The colours a pass or a pose may be given, as in `poses.css`. */
const markInks: Readonly<Record<MarkColour, string>> = {
  sand: "#c9a35b",
  moss: "#6b8f4e",
  river: "#4e86a8",
  clay: "#b4694c",
  dusk: "#7d6aa5",
};

/** The colour that keys of a layer wear: base motion's, or that of the kind of pass they belong to. */
export function layerInk(shot: Shot, layer: string, palette: Palette): string {
  if (layer === BASE) return palette.teal;
  const pass = shot.passes.find(({ id }) => id === layer);
  if (pass?.colour) return markInks[pass.colour];
  return pass?.kind === "replaces" ? palette.violet : palette.ochre;
}
