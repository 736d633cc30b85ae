import { create } from "zustand";
import { saveNow } from "../storage/autosave.ts";

/** Was a part of the application asked for that the server no longer has? */
export function isOutdated(error: unknown): boolean {
  return /dynamically imported module|module script failed|preload css/i.test(String((error as Error | null)?.message));
}

/** That a newer application is there than the one in this tab. */
export const useOutdated = create<{ readonly outdated: boolean }>(() => ({ outdated: false }));

/** Notice parts that cannot be loaded any more, wherever they are asked for. */
export function watchForUpdates(): void {
  window.addEventListener("vite:preloadError", () => useOutdated.setState({ outdated: true }));
}

/** Save what is open, then get the page anew. */
export async function reload(): Promise<void> {
  await saveNow().catch(() => undefined);
  window.location.reload();
}
