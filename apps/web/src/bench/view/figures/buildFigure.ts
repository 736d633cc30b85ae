import type { Shot } from "@kneader/core";
import { drawnBody } from "./drawnBody.ts";
import { bodyFor } from "./bodyFor.ts";
import { figureOf } from "./drawnFigure.ts";
import type { FigureModel } from "./figureModel.ts";
import type { LoadedAsset } from "./loadAsset.ts";
import { drawnAsset } from "./drawnAsset.ts";

/** Build the figure of a rig: from the file it came from, where that is given, or with a body of its own. */
export function buildFigure({ rig, asset }: Pick<Shot, "rig" | "asset">, loaded: LoadedAsset | null): FigureModel {
  return figureOf(loaded && asset ? drawnAsset(loaded, asset, rig) : drawnBody(bodyFor(rig), rig));
}
