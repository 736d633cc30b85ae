import {
  type HandOperation,
  madeBy,
  type Operation,
  runByHand,
  runOperation,
  noContext,
  type Report,
  type Scope,
  sayError,
  WHOLE_FIGURE,
} from "@kneader/core";
import { type Answer, currentDocument, tell, useDocuments } from "./documents.ts";

const NOBODY: Answer = { done: false, reason: "No shot is open." };

/** Do an operation by hand, at once: one step of the history. */
export function perform<Settings>(operation: HandOperation<Settings>, settings: Settings, scope: Scope = WHOLE_FIGURE): Answer {
  const shot = currentDocument();
  if (!shot) return NOBODY;
  try {
    const { shot: after, report } = runByHand(operation, shot, scope, settings);
    return useDocuments.getState().change(report.summary, after, madeBy(operation, scope, settings));
  } catch (error) {
    useDocuments.getState().setPreview(null);
    return { done: false, reason: sayError(error) };
  }
}

/** The same for a gesture, which has no place of its own to say why it was refused. Answers whether it was done. */
export function performOrTell<Settings>(operation: HandOperation<Settings>, settings: Settings, scope: Scope = WHOLE_FIGURE): boolean {
  const answer = perform(operation, settings, scope);
  if (!answer.done) tell(answer.reason);
  return answer.done;
}

/** Run any operation on the shot as it stands and keep what it makes. Errors: why it was refused. */
export async function performSoon<Settings>(
  operation: Operation<Settings>,
  settings: Settings,
  scope: Scope = WHOLE_FIGURE,
): Promise<Report> {
  const shot = currentDocument();
  if (!shot) throw new Error(NOBODY.done ? "" : NOBODY.reason);
  const { shot: after, report } = await runOperation(operation, shot, scope, settings, noContext);
  const answer = useDocuments.getState().change(report.summary, after, madeBy(operation, scope, settings));
  if (!answer.done) throw new Error(answer.reason);
  return report;
}
