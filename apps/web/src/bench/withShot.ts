import { currentShot, type Shot } from "@kneader/core";
import { saveNow } from "../storage/autosave.ts";
import { shotDoor } from "../storage/kept.ts";
import { useDocuments } from "./documents.ts";
import { bringIn, stepsBrought } from "./useOpenShot.ts";

/**
 * Go on with a shot that is open in this tab, or is opened with its steps for as long as that takes; `work` hears whether it
 * was open. Errors: why it cannot be opened, and what `work` throws. What was not saved by then is lost where it was not open.
 */
export async function withShot<Value>(id: string, work: (wasOpen: boolean) => Promise<Value>): Promise<Value> {
  const documents = useDocuments.getState();
  const wasOpen = documents.open[id] !== undefined;
  if (!wasOpen) {
    const failed = await bringIn(id, () => undefined);
    if (failed) throw new Error(failed);
    await stepsBrought(id);
  }
  try {
    return await work(wasOpen);
  } finally {
    // Unless it was opened on the bench meanwhile it goes as it came.
    if (!wasOpen && useDocuments.getState().current !== id) {
      documents.close(id);
      shotDoor.handleOf(id)?.release();
      await saveNow();
    }
  }
}

/** A shot that is open in this tab, to be changed. Errors: it is not, or another tab has it. */
export function openShot(id: string): Shot {
  const entry = useDocuments.getState().open[id];
  if (!entry) throw new Error("It is no longer open.");
  if (entry.readOnly) throw new Error("It is open in another tab, and can be changed only there.");
  return currentShot(entry.history);
}
