import { type FitInput, type FitOptions, type FitResult, fitSteps, inPieces, KneaderError } from "@kneader/core";
import { BREATH, letMessagesIn } from "./letMessagesIn.ts";

/** The fit that goes on, and whether it is wanted no more. */
let going = { number: 0, isCancelled: false };

/** What a helper does for whoever asks. */
export const fitService = {
  /** One fit at a time. Rejects when it is cancelled. */
  async fit(number: number, inputs: readonly FitInput[], options: FitOptions, progress: (share: number) => void): Promise<FitResult> {
    const own = { number, isCancelled: false };
    going = own;
    let breathed = performance.now();
    return inPieces(fitSteps(inputs, options), async (share) => {
      if (performance.now() - breathed < BREATH) return;
      progress(share);
      await letMessagesIn();
      if (own.isCancelled) throw new KneaderError("cancelled", "Cancelled.");
      breathed = performance.now();
    });
  },
  cancel(number: number): void {
    if (going.number === number) going.isCancelled = true;
  },
};

export type FitService = typeof fitService;
