import { type Detail, details, usePreferences } from "../app/preferences.ts";
import { catalogue, operations, pickedCount, sayError } from "@kneader/core";
import { stepKey } from "./view/Transport.tsx";
import { isolatePicked, togglePickedLocks, useChannelView } from "./rack/channels/channelView.ts";
import { copyScope, cutScope } from "./clipboard.ts";
import { clock } from "./clock.ts";
import { currentDocument, useDocuments } from "./documents.ts";
import { tell } from "./notices.ts";
import { addPass, keyHere, pickAllControls, pickAllKeys, pickKeysHere, removePicked, setRangeEnd, tangentPicked } from "./edits.ts";
import { removePoses } from "./rack/poses/poseEdits.ts";
import { useSelection } from "./selection.ts";
import { fitShown } from "./fit.ts";
import { isInChannelList } from "./keyOwner.ts";
import { useWork } from "./work/workStore.ts";
import { useDialogs } from "./dialogs.ts";

export interface Command {
  readonly id: string;
  readonly title: string;
  /** Other words for it. */
  readonly words: string;
  readonly help?: string;
  run(): void;
}

/** What Delete takes away: the picked keys, or the poses picked in the pose tray. */
function removePickedOrPoses(): void {
  const { keys, poses } = useSelection.getState();
  if (pickedCount(keys) === 0 && poses.length > 0) void removePoses(poses).catch((error: unknown) => tell(sayError(error)));
  else removePicked();
}

const detailAfter = (detail: Detail) => details[(details.indexOf(detail) + 1) % details.length];

const playhead = (to: (range: { start: number; end: number }) => number) => () => {
  const shot = currentDocument();
  if (shot) clock.set(to(shot.range));
};

/** Everything that can be found by words: every operation and every command of the bench. */
export const commands: readonly Command[] = [
  ...catalogue.map(
    (operation): Command => ({
      id: operation.id,
      title: operation.title,
      words: `${operation.words} ${operation.group}`,
      help: operation.help,
      run: () => useWork.getState().open(operation.id),
    }),
  ),
  { id: "undo", title: "Undo", words: "back step history", run: () => useDocuments.getState().undo() },
  { id: "redo", title: "Redo", words: "again step history", run: () => useDocuments.getState().redo() },
  { id: "history", title: "Show the history", words: "steps undo list", run: () => useDialogs.getState().show("history") },
  { id: "play-pause", title: "Play or pause", words: "start stop", run: () => clock.toggle() },
  { id: "step-forward", title: "One frame forward", words: "next", run: () => clock.set(clock.frame + 1) },
  { id: "step-back", title: "One frame back", words: "previous", run: () => clock.set(clock.frame - 1) },
  { id: "next-key", title: "Next key", words: "forward step", run: () => stepKey(1) },
  { id: "previous-key", title: "Previous key", words: "back step", run: () => stepKey(-1) },
  { id: "first-frame", title: "Go to the first frame", words: "start begin", run: playhead((range) => range.start) },
  { id: "last-frame", title: "Go to the last frame", words: "end", run: playhead((range) => range.end) },
  { id: "fit", title: "Fit", words: "frame all zoom show selection", help: "Shows the picked keys, or the whole shot.", run: fitShown },
  {
    id: "key-here",
    title: "Key here",
    words: "set insert add pose",
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
    id: "copy-keys",
    title: "Copy keys",
    words: "take curves clipboard",
    help: "Copies the picked keys, or the curves in scope. Ctrl C does the same.",
    run: () => void copyScope(),
  },
  { id: "cut-keys", title: "Cut keys", words: "take away curves clipboard", help: "Ctrl X does the same.", run: () => void cutScope() },
  { id: "remove-keys", title: "Remove the picked keys", words: "delete poses", run: removePickedOrPoses },
  ...(["auto", "smooth", "flat", "linear", "stepped", "free"] as const).map(
    (kind): Command => ({
      id: `tangent-${kind}`,
      title: `Make the picked keys ${kind}`,
      words: "tangent handles",
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
    words: "flip left right opposite",
    run: () => useWork.getState().open(operations.pastePose.id, { mirrored: true }),
  },
  { id: "add-pass", title: "Add an adding pass", words: "layer new offset", run: () => addPass("adds") },
  { id: "add-replacing-pass", title: "Add a replacing pass", words: "layer new override", run: () => addPass("replaces") },
  { id: "range-start", title: "Range starts here", words: "in mark", run: () => setRangeEnd("start") },
  { id: "range-end", title: "Range ends here", words: "out mark", run: () => setRangeEnd("end") },
  {
    id: "whole-figure",
    title: "Whole figure, whole shot",
    words: "clear selection scope all none",
    run: () => useSelection.getState().clear(),
  },
  {
    id: "everything",
    title: "Everything in the shot",
    words: "scope all set camera scenery ferry",
    help: "Set and camera are changed too, until something is picked.",
    run: () => useSelection.getState().clear(true),
  },
  {
    id: "pick-all",
    title: "Pick all keys",
    words: "select everything every",
    help: "Picks every key of what is in scope; in the channel list, every control.",
    run: () => (isInChannelList() ? pickAllControls() : pickAllKeys()),
  },
  {
    id: "pull-way",
    title: "Pull by turning or by reaching",
    words: "pose drag figure part joint limb reach turn",
    help: "What gives way when a part of the figure is dragged: the part itself, or what it hangs on.",
    run: () => {
      const { pullBy, set } = usePreferences.getState();
      set({ pullBy: pullBy === "turn" ? "reach" : "turn" });
    },
  },
  {
    id: "next-detail",
    title: "Curves, sheet, spacing",
    words: "keys lines speed tray switch detail rows next",
    help: "Shows the next of the trays in the lower part of the rack.",
    run: () => usePreferences.getState().set({ detail: detailAfter(usePreferences.getState().detail) }),
  },
  {
    id: "two-details",
    title: "Two trays below one another",
    words: "curves sheet spacing split second both detail",
    run: () => {
      const { detail, below, set } = usePreferences.getState();
      set({ below: below !== null && below !== detail ? null : detailAfter(detail) });
    },
  },
  {
    id: "isolate",
    title: "Show the picked alone",
    words: "isolate only hide others channels curves solo",
    help: "Shows the picked channels and hides the others; once more shows all.",
    run: isolatePicked,
  },
  { id: "show-all", title: "Show all channels", words: "unhide hidden", run: () => useChannelView.getState().showAll() },
  {
    id: "lock-picked",
    title: "Lock or unlock the picked",
    words: "protect channels controls freeze",
    help: "No edit changes a locked channel.",
    run: togglePickedLocks,
  },
  { id: "export", title: "Export", words: "save file gltf bvh csv json download", run: () => useDialogs.getState().show("export") },
];

export function runCommand(id: string): void {
  commands.find((command) => command.id === id)?.run();
}

/** Commands whose title or words hold every word typed, those that begin with it first. */
export function findCommands(text: string): Command[] {
  const parts = text.toLowerCase().split(/\s+/).filter(Boolean);
  const matching = commands.filter((command) => {
    const all = `${command.title} ${command.words}`.toLowerCase();
    return parts.every((part) => all.includes(part));
  });
  const rank = (command: Command) =>
    command.title.toLowerCase().startsWith(parts[0] ?? "") ? 0 : command.title.toLowerCase().includes(parts[0] ?? "") ? 1 : 2;
  return [...matching].sort((a, b) => rank(a) - rank(b));
}
