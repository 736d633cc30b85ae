import { type Clip, clipFromText, clipToText, liftKeys, liftPoses, operations, WHOLE_FIGURE } from "@kneader/core";
import { remember } from "./copied.ts";
import { currentDocument, useDocuments } from "./documents.ts";
import { poseScope } from "./keyPoses.ts";
import { performOrTell } from "./perform.ts";
import { currentScope, useSelection } from "./selection.ts";
import { useWork } from "./work/workStore.ts";

/** Copy the picked keys, or the curves in scope. Answers the clip; raises what `liftKeys` raises. */
export function copyScope(): Clip | null {
  const shot = currentDocument();
  if (!shot) return null;
  const { poses, keys } = useSelection.getState();
  if (poses.length > 0 && Object.keys(keys).length === 0)
    return keep(
      liftPoses(
        shot,
        poseScope(),
        [...poses].sort((a, b) => a - b),
      ),
    );
  return keep(liftKeys(shot, currentScope()));
}

/** Remember a clip, and put it into the system's clipboard: the system's clipboard gets its text where the browser lets it. */
export function keep(clip: Clip): Clip {
  remember(clip);
  void navigator.clipboard?.writeText(clipToText(clip)).catch(() => undefined);
  return clip;
}

/** Copy, then take away what was copied: one step of the history. */
export function cutScope(): Clip | null {
  const clip = copyScope();
  const shot = currentDocument();
  if (!clip || !shot) return null;
  const { keys, poses, pickKeys, pickPoses } = useSelection.getState();
  const scope = currentScope();
  if (scope.keys !== null) {
    performOrTell(operations.removeKeys, { cut: true }, { ...WHOLE_FIGURE, layer: scope.layer, keys });
    pickKeys({});
    return clip;
  }
  pickPoses([]);
  performOrTell(operations.cutMotion, { poses: [...poses] }, poses.length > 0 ? poseScope() : scope);
  return clip;
}

/** Open the work card to paste what a text holds. Raises an error for text that is not keys. */
export function pasteText(text: string): void {
  const clip = clipFromText(text);
  remember(clip);
  // What was copied is still picked; the paste is meant for its channels, not for those keys.
  useSelection.getState().pickKeys({});
  useWork.getState().open(operations.pasteKeys.id);
}

export function canChange(): boolean {
  const { current, open } = useDocuments.getState();
  return current !== null && open[current] !== undefined && !open[current].readOnly;
}
