import { create } from "zustand";

interface DrawerState {
  isOpen: boolean;
  /** What is looked for, and which one was chosen: they stay while an action of it is laid. */
  words: string;
  folder: string | null;
  chosen: string | null;
  /** It was opened just now, to be typed into; back after laying an action, the keys are the bench's. */
  fresh: boolean;
  toggle(): void;
  close(): void;
}

/** The pantry beside the bench's operations. */
export const useDrawer = create<DrawerState>((set) => ({
  isOpen: false,
  words: "",
  folder: null,
  chosen: null,
  fresh: false,
  toggle: () => set(({ isOpen }) => ({ isOpen: !isOpen, fresh: !isOpen })),
  close: () => set({ isOpen: false }),
}));
