import { type Exported, type Format, formats, originFile, type Shot, type WriteChoices } from "@kneader/core";
import { type Waiting, writeInWorker } from "../workers/writer.ts";
import { bodyFor } from "../bench/view/figures/bodyFor.ts";
import { assets } from "../storage/kept.ts";

/** What is chosen about an export, whatever its format makes of it. */
export interface ExportChoices {
  /** Name of the animation; empty: the shot's. */
  readonly name: string;
  readonly adds: boolean;
  readonly motion: NonNullable<WriteChoices["motion"]>;
  /** Samples a second; null: the shot's rate. */
  readonly rate: number | null;
  readonly onlyPicked: boolean;
  readonly withBody: boolean;
  readonly withFile: boolean;
}

export const plainChoices: ExportChoices = {
  name: "",
  adds: false,
  motion: "keys",
  rate: null,
  onlyPicked: false,
  withBody: true,
  withFile: false,
};

/** The formats a shot can be written in, the file it came from first. */
export function formatsFor(shot: Shot): readonly Format[] {
  return shot.asset ? [originFile, ...formats] : formats;
}

/** What the file ends with: that of the file it came from, where it goes back into that. */
export function extensionOf(format: Format, shot: Shot): string {
  if (!format.needsAsset || !shot.asset) return format.extension;
  return shot.asset.name.endsWith(".gltf") ? ".gltf" : ".glb";
}

/** Formats that hold skeletons as glTF does. */
export const isScene = ({ id }: Format): boolean => id === "glb" || id === "gltf";

/** Write a shot as chosen, beside the page. Errors: those of the format, and `Cancelled`. */
export async function writeChosen(
  format: Format,
  shot: Shot,
  choices: ExportChoices,
  picked: readonly string[],
  waiting: Waiting,
): Promise<Exported> {
  const { name, adds, motion, rate, onlyPicked, withBody, withFile } = choices;
  const wantsFile = format.needsAsset || (format.id === "json" && withFile);
  const all = {
    asset: shot.asset && wantsFile ? await assets.get(shot.asset.hash) : null,
    // A figure that is drawn from its file has no body of ours.
    body: isScene(format) && withBody && !shot.asset?.isDrawn ? bodyFor(shot.rig) : null,
    animation: name.trim() || undefined,
    adds,
    motion,
    rate: rate ?? undefined,
    controls: onlyPicked && picked.length > 0 ? picked : null,
  };
  return writeInWorker(format.id, shot, all, waiting);
}
