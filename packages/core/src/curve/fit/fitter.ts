import type { FitInput, FitOptions, FitResult } from "./fitSamples.ts";

/** What whoever asked for a fit wants to hear of it, and how they say that they want it no more. */
export interface FitWatch {
  readonly signal: AbortSignal;
  /** The share done, every few milliseconds. */
  progress(share: number): void;
}

/** Fits curves elsewhere, so that several fits go on at a time. */
export interface Fitter {
  /** Fewer samples in all are fitted sooner where they are than they are sent elsewhere. */
  readonly worth: number;
  /** Does what `fitSamples` does, to the bit. Rejects when it cannot, and when it is wanted no more. */
  readonly fit: (inputs: readonly FitInput[], options: FitOptions, watch: FitWatch) => Promise<FitResult>;
}
