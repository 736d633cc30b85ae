import type { Player } from "@kneader/core";
import type { Box3, Group, Object3D } from "three";
import type { Look } from "../looks.ts";

/** A drawn figure, placed by a player. */
export interface FigureModel {
  readonly group: Group;
  /** What the figure handles, with the control each thing moves with. */
  readonly props: readonly { readonly object: Object3D; readonly control: string }[];
  /** Is anything drawn of a control? */
  isDrawn(control: string): boolean;
  /** Widen a box (in the world) by what is drawn of it where it stands now: of these controls, or of all but things it handles. */
  measure(box: Box3, only?: ReadonlySet<string>): void;
  /** Place it where the player's figure now stands. */
  follow(player: Player): void;
  /** Mark these controls as picked. */
  pick(ids: ReadonlySet<string>): void;
  /** Draw it lit, flat, or as a silhouette in an ink. */
  show(look: Look, ink: string): void;
  /** A pale copy of it, of the same shapes; its strength is 0..1. */
  ghost(colour: string, strength: number): FigureModel;
  dispose(): void;
}
