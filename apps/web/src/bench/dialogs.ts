import { create } from "zustand";

type DialogName = "finder" | "export" | "history" | "version" | "first-steps";

interface Dialogs {
  open: DialogName | null;
  show(name: DialogName | null): void;
}

/** Which dialog stands open on the bench. */
export const useDialogs = create<Dialogs>((set) => ({ open: null, show: (open) => set({ open }) }));
