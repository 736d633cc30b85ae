import type { Action } from "@kneader/core";
import { create } from "zustand";

/** The action in whose card something is being written; what becomes of it elsewhere takes nothing from that. */
export const useWriting = create<{ readonly action: Action | null }>(() => ({ action: null }));
