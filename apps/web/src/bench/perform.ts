import {
  type Beyond,
  countedWord,
  type HandOperation,
  keysBeyond,
  operations,
  type Shot,
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
import { type Answer, currentDocument, useDocuments } from "./documents.ts";
import { mention, offer, tell } from "./notices.ts";

/** Where a change put keys outside the shot's range: say so, and offer a range that holds them. */
export function offerRange(before: Shot, after: Shot): void {
  const beyond = keysBeyond(before, after);
  if (!beyond) return;
  const { start, end } = beyond;
  offer(sayBeyond(beyond, after), sayWider(beyond, after), () => performOrTell(operations.changeShot, { range: { start, end } }));
}

/** "3 keys of Head lie after frame 46, where the shot ends." */
export function sayBeyond({ keys, who, end }: Beyond, { range }: Shot): string {
  const lie = keys === 1 ? "lies" : "lie";
  const where = end > range.end ? `after frame ${range.end}, where the shot ends` : `before frame ${range.start}, where the shot begins`;
  return `${countedWord(keys, "key")} of ${who} ${lie} ${where}.`;
}

function sayWider({ start, end }: Beyond, { range }: Shot): string {
  if (start === range.start) return `End the shot at ${end}`;
  return end === range.end ? `Begin the shot at ${start}` : `Make the shot ${start}–${end}`;
}

const NOBODY: Answer = { done: false, reason: "No shot is open." };

/** Do an operation by hand, at once: one step of the history. */
export function perform<Settings>(operation: HandOperation<Settings>, settings: Settings, scope: Scope = WHOLE_FIGURE): Answer {
  const shot = currentDocument();
  if (!shot) return NOBODY;
  try {
    const { shot: after, report } = runByHand(operation, shot, scope, settings);
    const answer = useDocuments.getState().change(report.summary, after, madeBy(operation, scope, settings));
    if (answer.done) {
      if (report.notes.length > 0) mention(report.notes.join(" "));
      offerRange(shot, after);
    }
    return answer;
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
  offerRange(shot, after);
  return report;
}
