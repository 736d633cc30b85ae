import { stepKey } from "../view/Transport.tsx";
import { clock } from "../clock.ts";
import { toggleRecording } from "../record/recorder.ts";
import { currentDocument } from "../documents.ts";
import type { Command } from "./command.ts";

const playhead = (to: (range: { start: number; end: number }) => number) => () => {
  const shot = currentDocument();
  if (shot) clock.set(to(shot.range));
};

/** The playhead. */
export const playCommands: readonly Command[] = [
  { id: "play-pause", title: "Play or pause", words: "start stop playback preview", run: () => clock.toggle() },
  {
    id: "record-hand",
    title: "Record, or stop recording",
    words: "take live perform hand",
    help: "Plays the marked range, or on from the playhead, and takes what is dragged meanwhile; the takes go into a pass.",
    run: toggleRecording,
  },
  { id: "step-forward", title: "One frame forward", words: "next", run: () => clock.set(clock.frame + 1) },
  { id: "step-back", title: "One frame back", words: "previous", run: () => clock.set(clock.frame - 1) },
  { id: "next-key", title: "Next key", words: "forward step jump", run: () => stepKey(1) },
  { id: "previous-key", title: "Previous key", words: "back step jump", run: () => stepKey(-1) },
  { id: "first-frame", title: "Go to the first frame", words: "start begin rewind", run: playhead((range) => range.start) },
  { id: "last-frame", title: "Go to the last frame", words: "end", run: playhead((range) => range.end) },
  {
    id: "frame-rate",
    title: "Frame rate",
    words: "fps frames per second speed 24 25 30 timebase",
    help: "Goes to the field of the frames per second. Keys stay on their frames; the shot plays quicker or slower.",
    run: () => document.querySelector<HTMLInputElement>(".transport input.fps")?.focus(),
  },
];
