import { currentShot, KneaderError, sayError, type Shot } from "@kneader/core";
import { useEffect, useState } from "react";
import { makeDemoShot } from "../shots/demo.ts";
import { knownSaved } from "../storage/autosave.ts";
import { loadShot, setAside } from "../storage/shotRecords.ts";
import { shotStore } from "../storage/stores.ts";
import { takeShot } from "../storage/tabLock.ts";
import { forgetUnused } from "../workers/operations.ts";
import { clock } from "./clock.ts";
import { useDocuments } from "./documents.ts";
import { NO_FILTER } from "./rack/channels/channelFilter.ts";
import { useChannelView } from "./rack/channels/channelView.ts";
import { useSelection } from "./selection.ts";
import { fitTime } from "./timeAxis.ts";
import { useWork } from "./work/workStore.ts";

async function fetchShot(id: string): Promise<{ shot: Shot; saved: boolean } | null> {
  const kept = await loadShot(id);
  if (kept) return { shot: kept, saved: true };
  const made = await makeDemoShot(id);
  return made ? { shot: made, saved: true } : null;
}

/** Open a shot for a page that shows it, and put the bench in order for it; says when it is there, or why it is not. */
export function useOpenShot(id: string): { ready: boolean; problem: string | null } {
  const [problem, setProblem] = useState<string | null>(null);
  const ready = useDocuments((state) => state.current === id && state.open[id] !== undefined);

  useEffect(() => {
    let wanted = true;
    const open = async () => {
      const documents = useDocuments.getState();
      if (!documents.open[id]) {
        const free = await takeShot(id, () => void reopen(id));
        try {
          const found = await fetchShot(id);
          if (!wanted) return;
          if (!found) return setProblem("There is no such shot in this browser. It may have been deleted, or kept in another browser.");
          if (found.saved) knownSaved(found.shot);
          documents.add(found.shot, !free);
        } catch (error) {
          if (!wanted) return;
          if (error instanceof KneaderError && error.code === "newer-version") return setProblem(sayError(error));
          await setAside(id, await shotStore.getItem(id), sayError(error));
          return setProblem(`${sayError(error)} Its record was set aside and can be downloaded from the shelf.`);
        }
      }
      const entry = useDocuments.getState().open[id];
      const shot = currentShot(entry.history);
      useSelection.getState().clear();
      useSelection.getState().setLayer("base");
      useChannelView.getState().showAll();
      useChannelView.getState().set(NO_FILTER);
      useWork.getState().close();
      clock.stop();
      useDocuments.getState().show(id);
      clock.set(shot.range.start);
      fitTime(shot.range.start, shot.range.end);
    };
    setProblem(null);
    void open();
    return () => {
      wanted = false;
      clock.stop();
      useDocuments.getState().setPreview(null);
      const shots = Object.values(useDocuments.getState().open).flatMap((entry) => entry.history.steps.map((step) => step.shot));
      void forgetUnused(shots);
    };
  }, [id]);
  return { ready, problem };
}

/** The tab that had the shot let it go: read what it saved last and take over. */
async function reopen(id: string): Promise<void> {
  const found = await fetchShot(id).catch(() => null);
  if (!found) return;
  knownSaved(found.shot);
  useDocuments.getState().add(found.shot, false);
}
