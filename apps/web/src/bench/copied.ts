import type { Clip } from "@kneader/core";

/** What was copied last on this bench; the system's clipboard has it as text. */
let copied: Clip | null = null;

export function lastCopied(): Clip | null {
  return copied;
}

export function remember(clip: Clip): void {
  copied = clip;
}

/** "12 keys on 4 curves". */
export function sayClip(clip: Clip): string {
  const curves = Object.values(clip.curves);
  const keys = curves.reduce((sum, { times }) => sum + times.length, 0);
  return `${keys} ${keys === 1 ? "key" : "keys"} on ${curves.length} ${curves.length === 1 ? "curve" : "curves"}`;
}
