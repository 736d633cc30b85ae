import type { Shot } from "@kneader/core";
import type { ThemeName } from "../../app/theme.ts";
import type { CameraName } from "./cameras.ts";

/** What is to be seen in the view. */
export interface StageProps {
  shot: Shot;
  theme: ThemeName;
  camera: CameraName;
  /** A plain room instead of the shot's set. */
  plain: boolean;
  /** Frames of the poses shown pale beside the present one. */
  ghosts: readonly number[];
  /** Another shot of the same rig, drawn pale over it at the same frame. */
  over?: Shot | null;
  picked: readonly string[];
  /** Control whose path is drawn, and the frames at which it has keys. */
  arc: { control: string; keys: readonly number[] } | null;
  onPick(control: string | null, add: boolean): void;
  /** Can parts of the figure be dragged? */
  pulls?: boolean;
}
