import { type Action, madeBy, operationById, type Outcome } from "@kneader/core";
import { usePreferences } from "../../app/preferences.ts";
import { pantryChanged } from "../../pantry/useActions.ts";
import { pantry } from "../../storage/pantry.ts";
import { currentDocument, useDocuments } from "../documents.ts";
import { offerRange } from "../perform.ts";
import { currentScope, useSelection } from "../selection.ts";
import { useWork } from "./workStore.ts";

/** May what there is so far be kept, while it gets better still? */
export function mayKeepSoFar(operation: string | null, outcome: Outcome | null): boolean {
  return operation !== null && outcome !== null && operationById(operation).steers !== undefined;
}

/** Wait until what is tried has been worked out; answers whether it is still the same operation. */
function isWorkedOut(): Promise<boolean> {
  const { operation, progress, outcome } = useWork.getState();
  if (progress === null || mayKeepSoFar(operation, outcome)) return Promise.resolve(true);
  useWork.setState({ asked: true });
  return new Promise((done) => {
    const stop = useWork.subscribe((now) => {
      if (now.operation === operation && now.progress !== null) return;
      stop();
      if (now.asked) useWork.setState({ asked: false });
      done(now.operation === operation);
    });
  });
}

/** Saved under the name of another in its folder, it takes that one's place; what that was is kept as an earlier state. */
async function overSame(action: Action): Promise<Action> {
  const { name, folder } = action.card;
  const same = (await pantry.list()).find((card) => card.name === name && card.folder === folder);
  return same ? { ...action, card: { ...action.card, id: same.id } } : action;
}

function sayNothing({ report }: Outcome): string {
  const why = [...report.warnings, ...report.notes][0];
  return `${report.summary}: nothing would change.${why ? ` ${why}` : ""}`;
}

/**
 * Take over the result of the operation at hand, once it is worked out: one undo step. Answers what to tell the
 * user. Errors: why it was refused.
 */
export async function applyWork(): Promise<string | null> {
  if (!(await isWorkedOut())) return null;
  const { operation, outcome, settings, close } = useWork.getState();
  if (!operation || !outcome) return null;
  const scope = currentScope();
  const chosen = operationById(operation);
  // What changes nothing is not done as if it did something: the card stays, with its reasons.
  if (!outcome.action && outcome.shot === currentDocument()) throw new Error(sayNothing(outcome));
  if (outcome.action) {
    await pantry.put(await overSame(outcome.action));
    await pantryChanged();
  }
  if (outcome.shot !== currentDocument()) {
    const shot = currentDocument();
    const before = new Set(shot?.passes.map(({ id }) => id));
    const controls = new Set(shot?.rig.controls.map(({ id }) => id));
    const name = outcome.report.summary || chosen.title;
    const answer = useDocuments.getState().change(name, outcome.shot, madeBy(chosen, scope, settings));
    // The card stays as it is, so that nothing of what was set up is lost.
    if (!answer.done) throw new Error(answer.reason);
    if (shot) offerRange(shot, outcome.shot);
    // Keys that were picked may be gone or elsewhere now.
    useSelection.getState().pickKeys({});
    // Of several new ones the topmost: that is where work goes on.
    const made = outcome.shot.passes.findLast(({ id }) => !before.has(id));
    if (made) useSelection.getState().setLayer(made.id);
    // So it goes on with a control that was made, to be moved.
    const control = outcome.shot.rig.controls.find(({ id }) => !controls.has(id));
    if (control) useSelection.getState().pickControls([control.id]);
  }
  const { lately, set } = usePreferences.getState();
  set({ lately: [operation, ...lately.filter((id) => id !== operation)].slice(0, 12) });
  close();
  return outcome.report.summary;
}
