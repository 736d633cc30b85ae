import { currentShot, type Shot } from "@kneader/core";
import { create } from "zustand";
import { useDocuments } from "../bench/documents.ts";
import { keepHistory } from "./keptHistory.ts";
import { watchDatabase } from "./database.ts";
import { assets, shotDoor } from "./kept.ts";
import { saySaveError } from "./shotRecords.ts";
import { historyStores } from "./stores.ts";

interface SaveState {
  state: "saved" | "waiting" | "failed";
  at: number | null;
  problem: string;
}

/** What the header says about saving. */
export const useSaveState = create<SaveState>(() => ({ state: "saved", at: null, problem: "" }));

/** The first change that is not saved yet waits this long for company, however many follow: well within a second. */
const WAIT = 250;
/** After a failure it is tried again by itself, less and less often. */
const RETRIES = [2000, 5000, 15000, 60000];

const savedShots = new Map<string, Shot>();
let timer: ReturnType<typeof setTimeout> | undefined;
let saving: Promise<void> = Promise.resolve();
let failures = 0;

/** Of shots that were saved: is the step before kept as well? */
const keptBack = new WeakMap<Shot, boolean>();

/** Is a shot saved as it is, and is there a way back once the tab is closed? */
export function howSaved(shot: Shot): { readonly saved: boolean; readonly back: boolean } {
  return { saved: savedShots.get(shot.id) === shot, back: keptBack.get(shot) ?? false };
}

/** Say that this is how the shot stands in storage, so that opening it does not save it again. */
export function knownSaved(shot: Shot): void {
  savedShots.set(shot.id, shot);
}

function unsaved(): Shot[] {
  const shots: Shot[] = [];
  for (const [id, entry] of Object.entries(useDocuments.getState().open)) {
    const shot = currentShot(entry.history);
    if (!entry.readOnly && shotDoor.handleOf(id)?.writable && savedShots.get(id) !== shot) shots.push(shot);
  }
  return shots;
}

function saveIn(wait: number): void {
  timer ??= setTimeout(() => void saveNow(), wait);
}

async function saveAll(): Promise<void> {
  let problem = "";
  let saved = false;
  for (const shot of unsaved()) {
    try {
      await shotDoor.handleOf(shot.id)?.save(shot);
      savedShots.set(shot.id, shot);
      saved = true;
      // The steps that led there; without them nothing is lost but the way back.
      const history = useDocuments.getState().open[shot.id]?.history;
      if (history && currentShot(history) === shot)
        keptBack.set(shot, await keepHistory(historyStores, shot.id, history).catch(() => false));
    } catch (error) {
      // A shot that was let go of meanwhile has nothing left to save.
      if (shotDoor.handleOf(shot.id)) problem = saySaveError(error);
    }
  }
  const at = saved ? Date.now() : useSaveState.getState().at;
  if (problem) {
    useSaveState.setState({ state: "failed", at, problem });
    saveIn(RETRIES[Math.min(failures++, RETRIES.length - 1)]);
    return;
  }
  failures = 0;
  const more = unsaved().length > 0;
  useSaveState.setState({ state: more ? "waiting" : "saved", at, problem: "" });
  if (more) saveIn(WAIT);
}

/** Save everything that changed, one shot after the other. */
export function saveNow(): Promise<void> {
  clearTimeout(timer);
  timer = undefined;
  saving = saving.then(saveAll);
  return saving;
}

/** How often what was kept in this browser was thrown away while this tab was open, and how many open shots were kept anew the last time. */
export const useEmptied = create<{ readonly times: number; readonly kept: number }>(() => ({ times: 0, kept: 0 }));

/** All that was kept is gone: what is open here, and the files of its characters, are kept anew. */
async function keepAnew(): Promise<void> {
  shotDoor.forgetKept();
  savedShots.clear();
  const kept = unsaved().length;
  await saveNow();
  // A file that cannot be kept is said where its shot is opened; its motion is there.
  await assets.keepHeld().catch(() => undefined);
  useEmptied.setState(({ times }) => ({ times: times + 1, kept }));
}

/** Watch the open shots and save what changes. */
export function startAutosave(): void {
  void watchDatabase(() => void keepAnew()).catch(() => undefined);
  useDocuments.subscribe((state, before) => {
    if (state.open === before.open) return;
    for (const id in before.open) if (!(id in state.open)) savedShots.delete(id);
    const waits = unsaved().length > 0;
    if (waits && useSaveState.getState().state === "saved") useSaveState.setState({ state: "waiting" });
    if (!waits && useSaveState.getState().state === "waiting") useSaveState.setState({ state: "saved" });
    if (!waits) return;
    // A change does not wait for the next try after a failure, which may be far off.
    clearTimeout(failures > 0 ? timer : undefined);
    if (failures > 0) timer = undefined;
    saveIn(WAIT);
  });
  window.addEventListener("pagehide", () => void saveNow());
  // While the last change is on its way into storage the browser asks before the page goes.
  window.addEventListener("beforeunload", (event) => {
    if (unsaved().length === 0) return;
    void saveNow();
    event.preventDefault();
  });
  document.addEventListener("visibilitychange", () => {
    if (document.visibilityState === "hidden") void saveNow();
  });
}
