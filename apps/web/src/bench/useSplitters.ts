import { useCallback, useEffect, useRef } from "react";
import type { GroupImperativeHandle, Layout as Sizes } from "react-resizable-panels";
import { usePreferences } from "../app/preferences.ts";
import type { Layout } from "./layouts.ts";

/** How the two splitters of the bench share it: the left (or upper) part of the whole, the view's share of that; in percent. */
interface Shares {
  readonly columns: number;
  readonly left: number;
}

/** The view grows with the window: at 1280 the left column takes 38 % of the width, at 1920 and more 45 %. */
function balancedShare(width: number): number {
  return Math.min(45, Math.max(36, 38 + ((width - 1280) / 640) * 7));
}

/** The shares a layout begins with, in a window so large (pixels). */
function firstShares(layout: Layout, width: number, height: number): Shares {
  if (layout === "shape") return { columns: Math.max(22, (336 / width) * 100), left: 40 };
  // The view takes what the slim rack leaves, and beside it the card what it needs.
  if (layout === "look") return { columns: 100 - (244 / (height - 80)) * 100, left: 100 - (336 / width) * 100 };
  return { columns: balancedShare(width), left: 51 };
}

interface Splitters {
  readonly ref: React.RefObject<GroupImperativeHandle | null>;
  readonly sizes: Sizes;
  changed(sizes: Sizes, meta: { readonly isUserInteraction: boolean }): void;
}

/** One splitter of the bench: each layout remembers its own place of it; a change of layout moves it without a new start of what it parts. */
export function useSplitter(which: keyof Shares, first: string, second: string): Splitters {
  const layout = usePreferences((state) => state.layout);
  const ref = useRef<GroupImperativeHandle>(null);
  const name = `${layout}.${which}`;
  const sizesOf = useCallback((): Sizes => {
    const kept = usePreferences.getState().splitters[name];
    const share = kept ?? firstShares(layout, window.innerWidth, window.innerHeight)[which];
    return { [first]: share, [second]: 100 - share };
  }, [name, layout, which, first, second]);
  useEffect(() => {
    ref.current?.setLayout(sizesOf());
  }, [sizesOf]);
  const changed = useCallback(
    (sizes: Sizes, { isUserInteraction }: { readonly isUserInteraction: boolean }) => {
      if (!isUserInteraction) return;
      const { splitters, set } = usePreferences.getState();
      set({ splitters: { ...splitters, [name]: sizes[first] } });
    },
    [name, first],
  );
  return { ref, sizes: sizesOf(), changed };
}
