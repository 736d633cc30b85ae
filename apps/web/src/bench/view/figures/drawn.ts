import type { Player } from "@kneader/core";
import type { Group, Material, Mesh } from "three";
import type { SkinPicker } from "./skinPicker.ts";

/** A mesh of a figure before it is dressed: as it is to be seen lit, and who owns its triangles. */
export interface DrawnMesh {
  readonly mesh: Mesh;
  /** Its material when lit, or as it is given. */
  readonly lit: Material | readonly Material[];
  readonly picker: SkinPicker;
  /** The control of the thing it belongs to, when that is no part of the figure. */
  readonly prop: string | null;
}

/** The meshes of a figure and how they are placed. */
export interface DrawnFigure {
  readonly group: Group;
  readonly meshes: readonly DrawnMesh[];
  follow(player: Player): void;
  /** The same shapes, to be placed on their own. */
  copy(): DrawnFigure;
  /** Let go of what was made for this one and its copies. */
  dispose(): void;
}
