import { currentShot, sayError, type Shot } from "@kneader/core";
import { useCallback, useEffect, useState } from "react";
import { makeDemoShot } from "../shots/demo.ts";
import { knownSaved } from "../storage/autosave.ts";
import { shotDoor, shotRecords } from "../storage/kept.ts";
import { keptHistory } from "../storage/keptHistory.ts";
import { historyStores } from "../storage/stores.ts";
import type { OnFree } from "../storage/shotDoor.ts";
import { isUndecodable } from "../storage/shotRecords.ts";
import { forgetUnused } from "../workers/operations.ts";
import { useDocuments } from "./documents.ts";
import { beginSession, endSession } from "./session.ts";

const MISSING = "There is no such shot in this browser. It may have been deleted, or kept in another browser.";

/** Shots on their way in: whoever asks again meanwhile waits for the same one. */
const opening = new Map<string, Promise<string | null>>();

/** Bring a shot into this tab; answers why not when that fails. */
export function bringIn(id: string, onGone: () => void): Promise<string | null> {
  const started = opening.get(id);
  if (started) return started;
  const work = open(id, onGone).finally(() => opening.delete(id));
  opening.set(id, work);
  return work;
}

async function open(id: string, onGone: () => void): Promise<string | null> {
  const documents = useDocuments.getState();
  // The tab that had the shot let it go: what it saved last is what is worked on from here.
  const onFree: OnFree = (found) => {
    if (!found) {
      documents.close(id);
      return onGone();
    }
    knownSaved(found.shot);
    documents.add(found.shot, false);
  };
  try {
    const found = await shotDoor.open(id, () => makeDemoShot(id), onFree);
    if (!found) return MISSING;
    knownSaved(found.shot);
    documents.add(found.shot, !found.handle.writable);
    // The steps come when they come, so that the shot is seen before.
    if (found.handle.writable) bringSteps(id, found.shot);
    return null;
  } catch (error) {
    if (!isUndecodable(error)) return sayError(error);
    const moved = await shotDoor.whenFree(id, () => shotRecords.setAside(id, sayError(error))).catch(() => false);
    return moved ? `${sayError(error)} Its record was set aside and can be downloaded from the shelf.` : sayError(error);
  }
}

const stepsOf = new Map<string, Promise<void>>();

function bringSteps(id: string, shot: Shot): void {
  const work = keptHistory(historyStores, shot).then((history) => {
    if (history) useDocuments.getState().bringBack(id, history);
    stepsOf.delete(id);
  });
  stepsOf.set(id, work);
}

/** Resolves once the kept steps of a shot that was brought in are there. */
export const stepsBrought = (id: string): Promise<void> => stepsOf.get(id) ?? Promise.resolve();

/** After so long (seconds) whoever waits is told what for. */
export const SLOW = 6;

interface Opening {
  readonly ready: boolean;
  /** It takes longer than it should: the browser's storage does not answer. */
  readonly slow: boolean;
  /** Why it is not there. */
  readonly problem: string | null;
  again(): void;
}

/** Open a shot for a page that shows it, and put the bench in order for it; says when it is there, or why it is not. */
export function useOpenShot(id: string): Opening {
  const [problem, setProblem] = useState<string | null>(null);
  const [attempt, setAttempt] = useState(0);
  const [slow, setSlow] = useState(false);
  const ready = useDocuments((state) => state.current === id && state.open[id] !== undefined);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another attempt is another run
  useEffect(() => {
    let wanted = true;
    const enter = async () => {
      if (!useDocuments.getState().open[id]) {
        const failed = await bringIn(id, () => wanted && setProblem(MISSING));
        if (!wanted) return;
        if (failed) return setProblem(failed);
      }
      const shot = currentShot(useDocuments.getState().open[id].history);
      beginSession(id, shot);
    };
    setProblem(null);
    setSlow(false);
    const timer = setTimeout(() => setSlow(true), SLOW * 1000);
    void enter().finally(() => clearTimeout(timer));
    return () => {
      wanted = false;
      clearTimeout(timer);
      endSession();
      const shots = Object.values(useDocuments.getState().open).flatMap((entry) => entry.history.steps.map((step) => step.shot));
      void forgetUnused(shots);
    };
  }, [id, attempt]);
  const again = useCallback(() => setAttempt((n) => n + 1), []);
  return { ready, slow, problem, again };
}
