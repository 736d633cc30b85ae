import { create } from "zustand";

/** What the stand-in for a device is asked for, and how the line is. */
interface StreamState {
  readonly performance: string;
  readonly rate: number;
  readonly noise: number;
  readonly drift: number;
  readonly dropped: number;
  readonly late: number;
  readonly doubled: number;
  readonly swapped: number;
  /** Seconds of what came before the button. */
  readonly preRoll: number;
  readonly line: "none" | "connecting" | "here" | "lost";
  /** What is heard, in a line of words. */
  readonly said: string;
  readonly problem: string;
}

export const useStream = create<StreamState>(() => ({
  performance: "walk",
  rate: 120,
  noise: 0,
  drift: 0,
  dropped: 0,
  late: 0,
  doubled: 0,
  swapped: 0,
  preRoll: 0.5,
  line: "none",
  said: "",
  problem: "",
}));
