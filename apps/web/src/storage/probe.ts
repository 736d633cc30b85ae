import { create } from "zustand";
import { makeStores } from "./database.ts";
import { preferencesStore, workInMemory } from "./stores.ts";

/** How long a browser's database may take to answer before it counts as silent. */
const PATIENCE = 4000;

interface StorageState {
  /** Why nothing can be kept in this browser; null when it can. */
  readonly problem: string | null;
}

/** What is said above every page when nothing can be kept. */
export const useStorageState = create<StorageState>(() => ({ problem: null }));

/** Try the browser's storage once, before anything is read from it; without it work goes on in memory. */
export async function probeStorage(): Promise<void> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const silence = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error("its database does not answer")), PATIENCE);
  });
  try {
    await Promise.race([silence, makeStores().catch(() => undefined)]);
    await Promise.race([silence, preferencesStore.setItem("probe", Date.now()).then(() => preferencesStore.getItem("probe"))]);
  } catch (error) {
    // A full store can still be read, and the first save will say that it is full.
    if (/quota/i.test(String((error as Error)?.name))) return;
    workInMemory();
    useStorageState.setState({ problem: String((error as Error)?.message || "it gives none") });
  } finally {
    clearTimeout(timer);
  }
}
