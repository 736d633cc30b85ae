import { create } from "zustand";
import { saveNow } from "../storage/autosave.ts";

/** Was a part of the application asked for that the server no longer has? */
export function isOutdated(error: unknown): boolean {
  return /dynamically imported module|module script failed|preload css/i.test(String((error as Error | null)?.message));
}

/** Why a part of the application cannot be loaded: a newer one is there than in this tab, or nobody answers. */
export const useOutdated = create<{ readonly why: "updated" | "silent" | null }>(() => ({ why: null }));

/** Does the server answer? */
async function answers(): Promise<boolean> {
  try {
    return (await fetch("/api/health", { cache: "no-store", signal: AbortSignal.timeout(4000) })).ok;
  } catch {
    return false;
  }
}

/** Say why a part cannot be loaded; answers whether the server is there. */
export async function lookWhy(): Promise<boolean> {
  const isThere = await answers();
  useOutdated.setState({ why: isThere ? "updated" : "silent" });
  return isThere;
}

/** Notice parts that cannot be loaded any more, wherever they are asked for. */
export function watchForUpdates(): void {
  window.addEventListener("vite:preloadError", () => void lookWhy());
  // What was asked for ahead, and by nobody yet, is said above and needs no words of the browser's.
  window.addEventListener("unhandledrejection", (event) => {
    if (isOutdated(event.reason)) event.preventDefault();
  });
}

/** Save what is open, then get the page anew. */
export async function reload(): Promise<void> {
  await saveNow().catch(() => undefined);
  window.location.reload();
}
