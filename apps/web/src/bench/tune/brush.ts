import type { PaintedSpan } from "@kneader/core";
import { create } from "zustand";

/** The brush of the strain tray: the closeness it paints. */
export const useBrush = create<{ closeness: number }>(() => ({ closeness: 100 }));

/** Spans with another painted over them: what is under it goes, and neighbours of one closeness become one. */
export function painted(spans: readonly PaintedSpan[], stroke: PaintedSpan): PaintedSpan[] {
  return joined([...wiped(spans, stroke), stroke]);
}

/** Spans with some frames wiped off. */
export function wiped(spans: readonly PaintedSpan[], { start, end }: Pick<PaintedSpan, "start" | "end">): PaintedSpan[] {
  return spans.flatMap((span) => {
    if (span.end < start || span.start > end) return [span];
    return [
      { ...span, end: start - 1 },
      { ...span, start: end + 1 },
    ].filter((left) => left.end >= left.start);
  });
}

function joined(spans: readonly PaintedSpan[]): PaintedSpan[] {
  const rising = spans.toSorted((a, b) => a.start - b.start);
  const result: PaintedSpan[] = [];
  for (const span of rising) {
    const last = result[result.length - 1];
    if (last && last.closeness === span.closeness && span.start <= last.end + 1)
      result[result.length - 1] = { ...last, end: Math.max(last.end, span.end) };
    else result.push(span);
  }
  return result;
}
