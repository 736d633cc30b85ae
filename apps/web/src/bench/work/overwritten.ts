import { type ChannelKey, wholeFramesOf } from "@kneader/core";
import { useMemo } from "react";
import { useWork } from "./workStore.ts";

type Keys = Readonly<Record<ChannelKey, readonly number[]>>;
const NONE: Keys = {};

/** The keys that give way to what is being tried, by channel of the chosen layer. */
export function useOverwritten(): Keys {
  return useWork((state) => state.outcome?.report.overwritten ?? NONE);
}

/** The whole frames at which some do. */
export function useOverwrittenFrames(): ReadonlySet<number> {
  const keys = useOverwritten();
  return useMemo(() => new Set(Object.values(keys).flatMap((times) => [...wholeFramesOf(Float64Array.from(times))])), [keys]);
}
