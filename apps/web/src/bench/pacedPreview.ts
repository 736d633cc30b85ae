import type { Shot } from "@kneader/core";
import { useDocuments } from "./documents.ts";

/** At most this share of the time goes into previews. */
const SHARE = 0.5;

/**
 * Previews of a drag for all that shows keys. They come as often as they may cost: a light shot's at every move, a heavy
 * one's now and then, the last one always. What must follow the pointer at once is shown live.
 */
export function pacedPreview(): { show(make: () => Shot): void; stop(): void } {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let next = 0;
  const show = (make: () => Shot): void => {
    clearTimeout(timer);
    const start = performance.now();
    if (start < next) {
      timer = setTimeout(() => late(make), next - start);
      return;
    }
    useDocuments.getState().setPreview(make());
    const end = performance.now();
    next = end + (end - start) * (1 / SHARE - 1);
  };
  /** Nobody waits for a preview that comes late: one that cannot be made is left out, and letting go says why. */
  const late = (make: () => Shot): void => {
    try {
      show(make);
    } catch {
      useDocuments.getState().setPreview(null);
    }
  };
  return {
    show,
    stop() {
      clearTimeout(timer);
      useDocuments.getState().setPreview(null);
    },
  };
}
