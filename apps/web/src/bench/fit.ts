import { pickedCount } from "@kneader/core";
import { currentDocument } from "./documents.ts";
import { useSelection } from "./selection.ts";
import { fitTime } from "./timeAxis.ts";
import { fitFreeView } from "./view/freeView.ts";
import { useValueAxis } from "./rack/curves/valueAxis.ts";

/** Show the picked keys, or the whole shot, and in the free camera the picked part, or the figure; values fit themselves. */
export function fitShown(): void {
  const shot = currentDocument();
  if (!shot) return;
  fitFreeView();
  const { keys, range } = useSelection.getState();
  useValueAxis.getState().fit();
  if (pickedCount(keys) > 1) {
    const times = Object.values(keys).flat();
    fitTime(Math.min(...times), Math.max(...times));
  } else if (range) fitTime(range.start, range.end);
  else fitTime(shot.range.start, shot.range.end);
}
