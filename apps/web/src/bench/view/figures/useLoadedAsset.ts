import { sayError, type Shot } from "@kneader/core";
import { useEffect, useState } from "react";
import { create } from "zustand";
import type { LoadedAsset } from "./loadAsset.ts";

/** What the view says of the character's file: that it is on its way, or why the character is not to be seen. */
export const useCharacterState = create<{ readonly isLoading: boolean; readonly problem: string | null }>(() => ({
  isLoading: false,
  problem: null,
}));

interface Loading {
  readonly hash: string | null;
  readonly loaded: LoadedAsset | null;
}

/** The scene of the file a shot's figure is drawn from; without one, or where it fails, a body of its own is drawn. */
export function useLoadedAsset(asset: Shot["asset"]): { loaded: LoadedAsset | null; isLoading: boolean } {
  const wanted = asset?.isDrawn ? asset.hash : null;
  const [{ hash, loaded }, setLoading] = useState<Loading>({ hash: null, loaded: null });
  useEffect(() => {
    if (wanted === null) return;
    let isWanted = true;
    let release: (() => void) | null = null;
    useCharacterState.setState({ isLoading: true, problem: null });
    const load = async () => {
      const { releaseAsset, takeAsset } = await import("./loadAsset.ts");
      if (!isWanted) return;
      release = () => releaseAsset(wanted);
      const found = await takeAsset(wanted).catch((error: unknown) => {
        if (isWanted) useCharacterState.setState({ problem: sayError(error) });
        return null;
      });
      if (!isWanted) return;
      setLoading({ hash: wanted, loaded: found });
      useCharacterState.setState({ isLoading: false });
    };
    void load();
    return () => {
      isWanted = false;
      useCharacterState.setState({ isLoading: false, problem: null });
      setLoading({ hash: null, loaded: null });
      // Whatever is drawn from it lets go first.
      setTimeout(() => release?.(), 0);
    };
  }, [wanted]);
  return { loaded: hash === wanted ? loaded : null, isLoading: wanted !== null && hash !== wanted };
}
