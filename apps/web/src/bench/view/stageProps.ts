import type { Shot } from "@kneader/core";
import type { ThemeName } from "../../app/theme.ts";
import type { CameraName } from "./cameraNames.ts";
import type { Look } from "./looks.ts";

/** A control whose path is drawn, and the frames at which it has keys. */
export interface ArcOf {
  readonly control: string;
  readonly keys: readonly number[];
}

/** What is to be seen in the view. */
export interface StageProps {
  shot: Shot;
  theme: ThemeName;
  camera: CameraName;
  look: Look;
  /** A plain room instead of the shot's set. */
  plain: boolean;
  /** Frames of the poses shown pale beside the present one, and how strongly (0..1). */
  ghosts: readonly number[];
  ghostInk: number;
  /** Another shot of the same rig, drawn pale over it at the same frame. */
  over?: Shot | null;
  picked: readonly string[];
  arcs: readonly ArcOf[];
  onPick(control: string | null, add: boolean): void;
  /** Can parts of the figure be dragged? */
  pulls?: boolean;
}
