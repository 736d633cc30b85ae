import type { Skeleton } from "../../figure/anatomy/skeleton.ts";

/** A control found for another, by their indices in their skeletons. */
export interface Found {
  readonly from: number;
  readonly to: number;
  /** How sure it is, from 0 to 1. */
  readonly sure: number;
}

/** What is matched so far, and what is still open on both sides. */
export interface Standing {
  readonly from: Skeleton;
  readonly to: Skeleton;
  /** By index of the control it was taken from. */
  readonly found: ReadonlyMap<number, number>;
  isOpenFrom(i: number): boolean;
  isOpenTo(i: number): boolean;
}

/** A way to find the control that takes what another did: one file, and one line in `strategies.ts`. */
export interface Strategy {
  readonly id: "name" | "path" | "place" | "shape";
  /** "by its name" */
  readonly title: string;
  /** Among what is open; when it finds one control for two, neither is taken. */
  find(standing: Standing): readonly Found[];
}
