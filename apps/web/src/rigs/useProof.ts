import { makePlayer, type MirrorProof, type PoseValues, proveMirror, type Shot } from "@kneader/core";
import { useEffect, useState } from "react";

/** So many frames are measured at the most, spread over the shot. */
const MOST = 60;

/** The proof of how the shot's rig is mirrored, and the frames it was measured at. */
export interface Proved {
  readonly proofs: ReadonlyMap<string, MirrorProof>;
  readonly frames: readonly number[];
}

function framesOf({ range }: Shot): number[] {
  const count = Math.min(MOST, Math.floor(range.end - range.start) + 1);
  const step = count > 1 ? (range.end - range.start) / (count - 1) : 0;
  return Array.from({ length: count }, (_, n) => Math.round(range.start + n * step));
}

/** Measured once the page stands, and anew whenever the rig or the motion changes; null until then. */
export function useProof(shot: Shot): Proved | null {
  const [proved, setProved] = useState<Proved | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => {
      const frames = framesOf(shot);
      const player = makePlayer(shot);
      const keys = [...player.channelIndex];
      const poses = frames.map((frame): PoseValues => {
        player.readValues(frame);
        return Object.fromEntries(keys.map(([key, i]) => [key, player.values[i]]));
      });
      setProved({ proofs: proveMirror(shot.rig, poses), frames });
    }, 0);
    return () => clearTimeout(timer);
  }, [shot]);
  return proved;
}
