import type { Below } from "./passKind.ts";

/** How one link of a chain swings at a frame. */
export interface Link {
  /** Swings a second at a frame. */
  frequency(frame: number): number;
  damping(frame: number): number;
}

/** What both ways of swinging are told. */
export interface Swing {
  readonly below: Below;
  readonly start: number;
  readonly count: number;
  readonly warmUp: number;
  readonly loop: boolean;
  /** 1 is 100 %. */
  readonly strength: number;
  /** Seconds a frame. */
  readonly step: number;
  /** No link is turned further than this from where the motion has it, in degrees. */
  readonly most: number;
  linkOf(control: string): Link;
}
