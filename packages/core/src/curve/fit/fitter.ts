import type { FitInput, FitOptions, FitResult } from "./fitSamples.ts";

/** What whoever asked for a fit wants to hear of it, and how they say that they want it no more. */
export interface FitWatch {
  readonly signal: AbortSignal;
  /** The share done, every few milliseconds. */
  progress(share: number): void;
}

/**
 * Does what `fitSamples` does, to the bit, but elsewhere, so that several fits go on at a time. Rejects when it cannot, and
 * when it is wanted no more.
 */
export type Fitter = (inputs: readonly FitInput[], options: FitOptions, watch: FitWatch) => Promise<FitResult>;
