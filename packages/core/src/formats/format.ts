import type { FigureBody } from "../figure/body/figureBody.ts";
import type { Shot } from "../model/shot.ts";

/** A shot read from a file, with what the reader had to decide or leave out, in sentences. */
export interface Imported {
  readonly shot: Shot;
  readonly notes: readonly string[];
  /** The file that `shot.asset` names, when the shot keeps one. */
  readonly asset?: Uint8Array;
}

/** A file that stands beside the one that is read, by its relative path; null when there is none. */
export type FilesBeside = (path: string) => Uint8Array | null;

/** A file to be read: its bytes, its name without what it ends with, and what stands beside it. */
export interface ShotFile {
  readonly bytes: Uint8Array;
  readonly name: string;
  readonly beside?: FilesBeside;
}

/** One of several animations in a file. */
export interface AnimationListed {
  readonly name: string;
  readonly seconds: number;
  /** Properties of nodes that it moves. */
  readonly tracks: number;
}

/** What is to be read of a file that holds more than one shot could. */
export interface ReadChoices {
  /** Counted from 0; the first when left out. */
  readonly animation?: number;
  /** From what the rest pose is taken: how the nodes stand, the pose the skin was bound in, or the first frame. */
  readonly rest?: "nodes" | "bind" | "first";
}

/** How a shot is to be written. */
export interface WriteChoices {
  /** The file the character came from, as `shot.asset` names it. */
  readonly asset?: Uint8Array | null;
  /** The body that is drawn for the figure, for formats that hold meshes. */
  readonly body?: FigureBody | null;
  /** Only these controls' motion. */
  readonly controls?: readonly string[] | null;
  /** Keys where they say all there is, or a sample at every frame whatever there is. */
  readonly motion?: "keys" | "samples";
  /** Samples a second, where there are samples; the shot's rate when left out. */
  readonly rate?: number;
  /** Name of the animation; when left out that of the one it replaces, or the shot's. */
  readonly animation?: string;
  /** Beside the animation the shot began with, not in its place. */
  readonly adds?: boolean;
  /** Told now and then what share of it is done, 0..1. */
  progress?(share: number): void;
}

/** A file made from a shot, with what the format could not hold, in sentences. */
export interface Exported {
  readonly bytes: Uint8Array;
  readonly notes: readonly string[];
}

/** One file format for shots: a file like `csv.ts` and a line in `formats.ts`. */
export interface Format {
  readonly id: string;
  readonly title: string;
  /** With its dot. */
  readonly extension: string;
  readonly help: string;
  read(file: ShotFile, choices?: ReadChoices): Promise<Imported> | Imported;
  write(shot: Shot, choices?: WriteChoices): Promise<Exported> | Exported;
  /** Lists what animations a file has, when it may have several. */
  list?(file: ShotFile): Promise<AnimationListed[]>;
  /** Lists which rest poses of a file differ from how its nodes stand. */
  rests?(file: ShotFile, animation?: number): Promise<NonNullable<ReadChoices["rest"]>[]>;
  /** It needs the file the character came from. */
  readonly needsAsset?: true;
  /** Its bytes are no text. */
  readonly binary?: true;
  /** The largest file that is read, in bytes, when it is not that of every format. */
  readonly most?: number;
}
