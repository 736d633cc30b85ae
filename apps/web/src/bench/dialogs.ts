import { create } from "zustand";

type DialogName = "finder" | "export" | "history" | "version" | "guide";

interface Dialogs {
  open: DialogName | null;
  /** The operation whose page of help was opened last. */
  guide: string | null;
  show(name: DialogName | null): void;
  showGuide(operation: string): void;
}

/** Which dialog stands open on the bench. */
export const useDialogs = create<Dialogs>((set) => ({
  open: null,
  guide: null,
  show: (open) => set({ open }),
  showGuide: (guide) => set({ open: "guide", guide }),
}));
