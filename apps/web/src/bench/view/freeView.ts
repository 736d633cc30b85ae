import { create } from "zustand";

type Place = readonly [number, number, number];

interface FreeView {
  /** The shot it was framed for, where the free camera stands, and what it looks at; null before it was used. */
  readonly of: string | null;
  readonly eye: Place;
  readonly target: Place;
  /** Counts the wishes to frame what is picked, or the figure. */
  readonly fits: number;
}

/** The free camera: one for the view and for both sides of a comparison, so that they look from the same place. */
export const useFreeView = create<FreeView>(() => ({ of: null, eye: [0, 0, 1], target: [0, 0, 0], fits: 0 }));

/** Frame what is picked, or the whole figure, if the free camera is looking. */
export function fitFreeView(): void {
  useFreeView.setState(({ fits }) => ({ fits: fits + 1 }));
}
