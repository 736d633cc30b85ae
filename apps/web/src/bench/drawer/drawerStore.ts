import { create } from "zustand";

interface DrawerState {
  isOpen: boolean;
  toggle(): void;
  close(): void;
}

/** The pantry beside the bench's operations. */
export const useDrawer = create<DrawerState>((set) => ({
  isOpen: false,
  toggle: () => set(({ isOpen }) => ({ isOpen: !isOpen })),
  close: () => set({ isOpen: false }),
}));
