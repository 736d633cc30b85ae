import { type Clip, clipFromText, clipToText, layerCurves, liftKeys, liftPoses, removeKeys, withLayerCurves } from "@kneader/core";
import { pasteSettings, remember, sayClip } from "./copied.ts";
import { currentDocument, useDocuments } from "./documents.ts";
import { change, editKeys } from "./edits.ts";
import { poseScope } from "./keyPoses.ts";
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
  const { keys, layer, poses, pickKeys, pickPoses } = useSelection.getState();
  const meant = new Set(Object.keys(clip.curves));
  if (Object.keys(keys).length > 0) {
    change(`Cut ${sayClip(clip)}`, (s) => editKeys(s, layer, keys, removeKeys));
    pickKeys({});
    return clip;
  }
  const { range } = currentScope();
  const frames = new Set(poses);
  pickPoses([]);
  change(`Cut ${sayClip(clip)}`, (s) => {
    const curves = { ...layerCurves(s, layer) };
    for (const key of meant) {
      if (s.locked.includes(key)) continue;
      const { times } = curves[key];
      const goes = (time: number) =>
        frames.size > 0 ? frames.has(Math.round(time)) : !range || (time >= range.start && time <= range.end);
      const gone = [...times.keys()].filter((i) => goes(times[i]));
      // Cut poses leave a curve its last key, or the control would fall back to rest.
      const left = removeKeys(curves[key], frames.size > 0 && gone.length === times.length ? gone.slice(1) : gone);
      if (left) curves[key] = left;
      else delete curves[key];
    }
    return withLayerCurves(s, layer, curves);
  });
  return clip;
}

/** Open the work card to paste what a text holds. Raises an error for text that is not keys. */
export function pasteText(text: string): void {
  const clip = clipFromText(text);
  remember(clip);
  // What was copied is still picked; the paste is meant for its channels, not for those keys.
  useSelection.getState().pickKeys({});
  useWork.getState().open("paste-keys", pasteSettings(clip));
}

export function canChange(): boolean {
  const { current, open } = useDocuments.getState();
  return current !== null && open[current] !== undefined && !open[current].readOnly;
}
