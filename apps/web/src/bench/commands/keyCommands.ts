import { operations, pickedCount, sayError } from "@kneader/core";
import { isolatePicked, togglePickedLocks, useChannelView } from "../rack/channels/channelView.ts";
import { removePoses } from "../rack/poses/poseEdits.ts";
import { copyScope, cutScope } from "../clipboard.ts";
import { clock } from "../clock.ts";
import { lastCopied } from "../copied.ts";
import { useDocuments } from "../documents.ts";
import { keyHere, pickAllControls, pickAllKeys, pickKeysHere, removePicked, setRangeEnd, tangentPicked } from "../edits.ts";
import { isInChannelList } from "../keyOwner.ts";
import { tell } from "../notices.ts";
import { useSelection } from "../selection.ts";
import { useWork } from "../work/workStore.ts";
import type { Command } from "./command.ts";

const orTell = (work: () => unknown) => {
  try {
    work();
  } catch (error) {
    tell(sayError(error));
  }
};

/** What Delete takes away: the picked keys, or the poses picked in the pose tray. */
function removePickedOrPoses(): void {
  const { keys, poses } = useSelection.getState();
  if (pickedCount(keys) === 0 && poses.length > 0) void removePoses(poses).catch((error: unknown) => tell(sayError(error)));
  else removePicked();
}

/** Keys, poses, and what is picked of them. */
export const keyCommands: readonly Command[] = [
  { id: "undo", title: "Undo", words: "back step history revert", run: () => useDocuments.getState().undo() },
  { id: "redo", title: "Redo", words: "again step history", run: () => useDocuments.getState().redo() },
  {
    id: "key-here",
    title: "Key here",
    words: "set insert add pose keyframe record save",
    help: "Keys the picked controls, or the whole figure, as they are at the playhead.",
    run: keyHere,
  },
  {
    id: "pick-keys-here",
    title: "Pick the keys here",
    words: "select at playhead pose",
    help: "Picks every key at the playhead of what is in scope.",
    run: pickKeysHere,
  },
  {
    id: "pick-all",
    title: "Pick all keys",
    words: "select everything every",
    help: "Picks every key of what is in scope; in the channel list, every control.",
    run: () => (isInChannelList() ? pickAllControls() : pickAllKeys()),
  },
  {
    id: "copy-keys",
    title: "Copy keys",
    words: "take curves clipboard duplicate",
    help: "Copies the picked keys, or the curves in scope. Ctrl C does the same.",
    run: () => orTell(copyScope),
  },
  {
    id: "cut-keys",
    title: "Cut keys",
    words: "take away curves clipboard",
    help: "Ctrl X does the same.",
    run: () => orTell(cutScope),
  },
  {
    id: "paste-keys-mirrored",
    title: "Paste keys mirrored",
    words: "mirror flip left right opposite other half side symmetry",
    help: "Pastes the copied keys with left and right exchanged, at the playhead.",
    missing: () => (lastCopied() ? null : "It needs copied keys."),
    run: () => useWork.getState().open(operations.pasteKeys.id, { mirrored: true }),
  },
  { id: "remove-keys", title: "Remove the picked keys", words: "delete erase poses clear keyframes", run: removePickedOrPoses },
  ...(["auto", "smooth", "flat", "linear", "stepped", "free"] as const).map(
    (kind): Command => ({
      id: `tangent-${kind}`,
      title: `Make the picked keys ${kind}`,
      words: `tangent handles spline interpolation ${kind === "stepped" ? "hold constant blocking" : kind === "auto" ? "clamped overshoot" : ""}`,
      missing: () => (pickedCount(useSelection.getState().keys) > 0 ? null : "It needs picked keys."),
      run: () => void tangentPicked(kind),
    }),
  ),
  {
    id: "copy-pose",
    title: "Copy the pose",
    words: "take remember",
    help: "The next Paste pose takes this frame's pose.",
    run: () => useSelection.getState().copyPose(clock.frame),
  },
  {
    id: "paste-mirrored",
    title: "Paste pose mirrored",
    words: "mirror flip flipped left right opposite symmetry",
    help: "Keys the copied pose, or this one, with left and right exchanged.",
    run: () => useWork.getState().open(operations.pastePose.id, { mirrored: true }),
  },
  { id: "range-start", title: "Range starts here", words: "in mark work area begin", run: () => setRangeEnd("start") },
  { id: "range-end", title: "Range ends here", words: "out mark work area", run: () => setRangeEnd("end") },
  {
    id: "whole-figure",
    title: "Whole figure, whole shot",
    words: "clear selection scope all none deselect unpick character",
    help: "Nothing is picked and no range is marked.",
    run: () => useSelection.getState().clear(),
  },
  {
    id: "everything",
    title: "Everything in the shot",
    words: "scope all set camera scenery ferry props",
    help: "Set and camera are changed too, until something is picked.",
    run: () => useSelection.getState().clear(true),
  },
  {
    id: "isolate",
    title: "Show the picked alone",
    words: "isolate only hide others channels curves solo",
    help: "Shows the picked channels and hides the others; once more shows all.",
    run: isolatePicked,
  },
  {
    id: "show-all",
    title: "Show all channels",
    words: "unhide hidden curves",
    run: () => useChannelView.getState().showAll(),
  },
  {
    id: "lock-picked",
    title: "Lock or unlock the picked",
    words: "protect channels controls freeze",
    help: "No edit changes a locked channel.",
    run: togglePickedLocks,
  },
];
