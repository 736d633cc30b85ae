import { create } from "zustand";
import type { ArcBend } from "./arcMarks.ts";

/** The bends of the arcs that are shown, in the order of frames. */
export const useArcState = create<{ bends: readonly ArcBend[] }>(() => ({ bends: [] }));
