import { currentShot, type Shot } from "@kneader/core";
import { create } from "zustand";
import { useDocuments } from "../bench/documents.ts";
import { saveShot, saySaveError } from "./shotRecords.ts";

interface SaveState {
  state: "saved" | "waiting" | "failed";
  at: number | null;
  problem: string;
}

/** What the header says about saving. */
export const useSaveState = create<SaveState>(() => ({ state: "saved", at: null, problem: "" }));

/** How long a change may wait for the next one; a change is safe well within a second. */
const WAIT = 250;

const savedShots = new Map<string, Shot>();
let timer: ReturnType<typeof setTimeout> | undefined;
let saving: Promise<void> = Promise.resolve();

/** Say that this is how the shot stands in storage, so that opening it does not save it again. */
export function knownSaved(shot: Shot): void {
  savedShots.set(shot.id, shot);
}

function unsaved(): Shot[] {
  const shots: Shot[] = [];
  for (const [id, entry] of Object.entries(useDocuments.getState().open)) {
    const shot = currentShot(entry.history);
    if (!entry.readOnly && savedShots.get(id) !== shot) shots.push(shot);
  }
  return shots;
}

/** Save everything that changed, one shot after the other. */
export function saveNow(): Promise<void> {
  clearTimeout(timer);
  saving = saving.then(async () => {
    for (const shot of unsaved()) {
      try {
        await saveShot(shot);
        savedShots.set(shot.id, shot);
        useSaveState.setState({ state: unsaved().length > 0 ? "waiting" : "saved", at: Date.now(), problem: "" });
      } catch (error) {
        useSaveState.setState({ state: "failed", problem: saySaveError(error) });
      }
    }
  });
  return saving;
}

/** Watch the open shots and save what changes. */
export function startAutosave(): void {
  useDocuments.subscribe((state, before) => {
    if (state.open === before.open || unsaved().length === 0) return;
    useSaveState.setState({ state: "waiting" });
    clearTimeout(timer);
    timer = setTimeout(() => void saveNow(), WAIT);
  });
  window.addEventListener("pagehide", () => void saveNow());
  document.addEventListener("visibilitychange", () => {
    if (document.visibilityState === "hidden") void saveNow();
  });
}
