import { create } from "zustand";

/** How the hand is heard: it drags the figure, it drives two channels and the pressure of a pen a third, or a capture device is heard. */
export interface HandState {
  readonly hand: "pull" | "pair" | "stream";
  /** Channel keys: across, up, and pressure; empty: none. */
  readonly across: string;
  readonly up: string;
  readonly pressure: string;
  /** What a channel comes to for a hand's breadth of the mouse, a stick pushed all the way, or full pressure. */
  readonly amount: number;
  /** Percent of the shot's own speed while it is recorded. */
  readonly speed: number;
  /** It goes on from the start again, each round another take. */
  readonly rounds: boolean;
  readonly countsIn: boolean;
}

export const useHand = create<HandState>(() => ({
  hand: "pull",
  across: "",
  up: "",
  pressure: "",
  amount: 45,
  speed: 100,
  rounds: false,
  countsIn: true,
}));

interface RecorderState {
  readonly state: "rest" | "counting" | "recording";
  /** Beats of the count-in that are left. */
  readonly beats: number;
  /** Which round is being recorded, counted from 1. */
  readonly round: number;
  /** What was said of the takes when they ended, by their ids. */
  readonly said: Readonly<Record<string, string>>;
}

export const useRecorder = create<RecorderState>(() => ({ state: "rest", beats: 0, round: 1, said: {} }));

export const isRecording = (): boolean => useRecorder.getState().state === "recording";
/** It is recorded, or counted in to it: a press is meant for the recording. */
export const isRecordingAwaited = (): boolean => useRecorder.getState().state !== "rest";
export const isPairAwaited = (): boolean => isRecordingAwaited() && useHand.getState().hand === "pair";
