import { madeBy, operationById } from "@kneader/core";
import { pantryChanged } from "../../pantry/useActions.ts";
import { pantry } from "../../storage/pantry.ts";
import { currentDocument, useDocuments } from "../documents.ts";
import { currentScope, useSelection } from "../selection.ts";
import { useWork } from "./workStore.ts";

/** Take over the result of the operation at hand: one undo step. Answers what to tell the user. Errors: why it was refused. */
export async function applyWork(): Promise<string | null> {
  const { operation, outcome, settings, progress, close } = useWork.getState();
  if (!operation || !outcome || progress !== null) return null;
  const scope = currentScope();
  const chosen = operationById(operation);
  if (outcome.action) {
    await pantry.put(outcome.action);
    await pantryChanged();
  } else {
    const before = new Set(currentDocument()?.passes.map(({ id }) => id));
    const name = outcome.report.summary || chosen.title;
    const answer = useDocuments.getState().change(name, outcome.shot, madeBy(chosen, scope, settings));
    // The card stays as it is, so that nothing of what was set up is lost.
    if (!answer.done) throw new Error(answer.reason);
    // Keys that were picked may be gone or elsewhere now.
    useSelection.getState().pickKeys({});
    // Of several new ones the topmost: that is where work goes on.
    const made = outcome.shot.passes.findLast(({ id }) => !before.has(id));
    if (made) useSelection.getState().setLayer(made.id);
  }
  close();
  return outcome.report.summary;
}
