import { channelKey, constantCurve, fieldPass, makePlayer, operations, type Pass, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { create } from "zustand";
import { clock } from "../clock.ts";
import { currentDocument, useDocuments } from "../documents.ts";
import { tell } from "../notices.ts";
import { performOrTell } from "../perform.ts";
import { useSelection } from "../selection.ts";

interface Spot {
  readonly x: number;
  readonly y: number;
}

/** Beats of the count-in, and how long each is (milliseconds). */
const BEATS = 3;
const BEAT = 500;

const [X, Y] = fieldPass.own.channels.map((channel) => channelKey(fieldPass.own.name, channel));

/** Recording of a spot's path: counting in, recording, or at rest. */
export const useRecording = create<{ state: "rest" | "counting" | "recording"; beats: number }>(() => ({ state: "rest", beats: 0 }));

let spot: Spot = { x: 0.5, y: 0.5 };
let stop: (() => void) | null = null;

/** The spot is moved while its path is recorded. */
export function moveRecordedSpot(to: Spot): void {
  spot = to;
}

/** A shot in which the spot of a field stands still. */
export function withSpot(shot: Shot, pass: Pass, { x, y }: Spot): Shot {
  const still = { ...pass, curves: { [X]: constantCurve(x), [Y]: constantCurve(y) } };
  return { ...shot, passes: shot.passes.map((one) => (one.id === pass.id ? still : one)) };
}

/** Count in, play the marked range or from the playhead to the end, and keep the path the spot takes meanwhile. */
export function startRecording(id: string, from: Spot): void {
  const shot = currentDocument();
  const pass = shot?.passes.find((one) => one.id === id);
  if (!shot || !pass || stop) return;
  spot = from;
  const { range } = useSelection.getState();
  const start = Math.ceil(range?.start ?? (clock.frame >= shot.range.end ? shot.range.start : clock.frame));
  const end = Math.floor(range?.end ?? shot.range.end);
  clock.stop();
  clock.set(start);
  useRecording.setState({ state: "counting", beats: BEATS });
  const timer = setInterval(() => {
    const { beats } = useRecording.getState();
    if (beats > 1) {
      useRecording.setState({ beats: beats - 1 });
      return;
    }
    clearInterval(timer);
    stop = record(shot, pass, start, end);
  }, BEAT);
  stop = () => {
    clearInterval(timer);
    rest();
  };
}

/** Give up counting in, or keep what was recorded so far. */
export function stopRecording(): void {
  stop?.();
}

function rest(): void {
  stop = null;
  useDocuments.getState().setLive(null);
  useRecording.setState({ state: "rest", beats: 0 });
}

function record(shot: Shot, pass: Pass, start: number, end: number): () => void {
  const taken = new Map<number, Spot>();
  const { loop } = clock;
  clock.loop = false;
  useRecording.setState({ state: "recording", beats: 0 });
  let shown: Spot | null = null;
  const show = () => {
    if (shown?.x === spot.x && shown.y === spot.y) return;
    shown = spot;
    useDocuments.getState().setLive(makePlayer(withSpot(shot, pass, spot)));
  };
  const finish = () => {
    unsubscribe();
    clock.stop();
    clock.loop = loop;
    rest();
    if (currentDocument() !== shot) return tell("The shot was changed while the spot was recorded, so the take was not kept.");
    const frames = [...taken.keys()].sort((a, b) => a - b);
    if (frames.length < 2) return;
    const values = { [X]: frames.map((frame) => (taken.get(frame) as Spot).x), [Y]: frames.map((frame) => (taken.get(frame) as Spot).y) };
    performOrTell(operations.keyTake, { frames, values, name: `the spot of ${pass.name}` }, { ...WHOLE_FIGURE, layer: pass.id });
  };
  const tick = () => {
    if (clock.frame <= end) taken.set(clock.frame, spot);
    show();
    if (clock.frame >= end || !clock.playing) finish();
  };
  const unsubscribe = clock.subscribe(tick);
  taken.set(start, spot);
  show();
  clock.toggle();
  return finish;
}
