import { create } from "zustand";

interface Hovered {
  /** The control under the pointer in the view. */
  readonly control: string | null;
  /** Where the pointer is on it (pixels in the view), while no button is down. */
  readonly at: { readonly x: number; readonly y: number } | null;
  /** The mark of an arc under it, and where that is in the view (pixels). */
  readonly mark: { readonly frame: number; readonly name: string; readonly x: number; readonly y: number } | null;
}

export const useHovered = create<Hovered>(() => ({ control: null, at: null, mark: null }));
