import type { FrameRange, Shot } from "../../model/shot.ts";

/** The marked range in whole frames, where it is a part of the shot. */
export function partOf({ range }: Shot, marked: FrameRange | null): FrameRange | null {
  if (marked === null) return null;
  const part = { start: Math.round(Math.max(range.start, marked.start)), end: Math.round(Math.min(range.end, marked.end)) };
  return part.end < part.start || (part.start <= range.start && part.end >= range.end) ? null : part;
}
