import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { findFlights } from "../../evaluate/findFlights.ts";
import type { FrameRange, Shot } from "../../model/shot.ts";

/** When a step works, so that it fits shots of any length. */
export const whenSchema = z
  .discriminatedUnion("kind", [
    z.strictObject({ kind: z.literal("whole") }),
    /** The marked range; where none is marked, the whole shot. */
    z.strictObject({ kind: z.literal("range") }),
    /** Shares of the shot: 0 its first frame, 1 its last. */
    z.strictObject({ kind: z.literal("share"), from: z.number().min(0).max(1), to: z.number().min(0).max(1) }),
    /** From the last frame before a flight on, or from the first after it; flights are counted from 1. */
    z.strictObject({
      kind: z.literal("from"),
      moment: z.enum(["take-off", "landing"]),
      flight: z.number().int().min(1).max(100).default(1),
    }),
  ])
  .default({ kind: "whole" });
export type When = z.infer<typeof whenSchema>;

/** In words: "the first half". */
export function sayWhen(when: When): string {
  if (when.kind === "whole") return "the whole shot";
  if (when.kind === "range") return "the marked range";
  if (when.kind === "from") return `from ${when.moment} ${when.flight} on`;
  const percent = (share: number) => `${Math.round(share * 100)} %`;
  if (when.from === 0 && when.to === 0.5) return "the first half";
  if (when.from === 0.5 && when.to === 1) return "the second half";
  return `from ${percent(when.from)} to ${percent(when.to)} of the shot`;
}

/** The frames meant in a shot; null for the whole of it. Errors: `no-match` when there is no such moment. */
export function findWhen(shot: Shot, when: When, marked: FrameRange | null): FrameRange | null {
  const { start, end } = shot.range;
  if (when.kind === "whole") return null;
  if (when.kind === "range") return marked;
  if (when.kind === "share") {
    const at = (share: number) => Math.round(start + share * (end - start));
    if (when.to <= when.from)
      throw new KneaderError("no-match", "its part of the shot ends before it begins.", "Say otherwise when it works.");
    return { start: at(when.from), end: at(when.to) };
  }
  const flight = findFlights(shot)[when.flight - 1];
  if (!flight) throw new KneaderError("no-match", `there is no ${when.moment} ${when.flight} in the shot.`, "Say otherwise when it works.");
  return { start: when.moment === "landing" ? flight.end : flight.start, end };
}
