import { create } from "zustand";

/** The control under the pointer in the view. */
export const useHovered = create<{ control: string | null }>(() => ({ control: null }));
