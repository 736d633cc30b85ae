import type { Shot } from "../model/shot.ts";

/** A shot read from a file, with what the reader had to decide or leave out, in sentences. */
export interface Imported {
  readonly shot: Shot;
  readonly notes: readonly string[];
}

/** A file that stands beside the one that is read, by its relative path; null when there is none. */
export type FilesBeside = (path: string) => Uint8Array | null;

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
  read(bytes: Uint8Array, name: string, beside?: FilesBeside): Imported;
  write(shot: Shot): Exported;
  /** Its bytes are no text. */
  readonly binary?: true;
}
