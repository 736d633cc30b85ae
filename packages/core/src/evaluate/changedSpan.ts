import type { Curve } from "../curve/curve.ts";
import { activePasses } from "../passes/active.ts";
import { passKind } from "../passes/kinds.ts";
import type { Curves, FrameRange, Pass, Shot } from "../model/shot.ts";

/**
 * The frames at which two states of a shot may differ: null where they are alike, "all" where that is not told. Outside it
 * every control is where it was, to the last bit. Only keys that were changed by hand are told apart: passes that work with
 * other frames, and whatever else is not the very same, make it "all".
 */
export function changedSpan(before: Shot, after: Shot): FrameRange | "all" | null {
  if (before === after) return null;
  if (before.rig !== after.rig || before.constraints !== after.constraints || before.passes.length !== after.passes.length) return "all";
  if (before.range.start !== after.range.start || before.range.end !== after.range.end || before.rate !== after.rate) return "all";
  if (activePasses(after).some((pass) => passKind(pass.kind)?.reads !== "keys")) return "all";
  const spans: (FrameRange | "all" | null)[] = [curvesSpan(before.base, after.base)];
  for (const [n, pass] of after.passes.entries()) spans.push(passSpan(before.passes[n], pass));
  let joined: FrameRange | null = null;
  for (const span of spans) {
    if (span === "all") return "all";
    if (span) joined = joined ? { start: Math.min(joined.start, span.start), end: Math.max(joined.end, span.end) } : span;
  }
  return joined;
}

function passSpan(before: Pass, after: Pass): FrameRange | "all" | null {
  if (before === after) return null;
  const fields = Object.keys({ ...before, ...after }) as (keyof Pass)[];
  return fields.every((field) => field === "curves" || before[field] === after[field]) ? curvesSpan(before.curves, after.curves) : "all";
}

function curvesSpan(before: Curves, after: Curves): FrameRange | "all" | null {
  let joined: FrameRange | null = null;
  for (const key of new Set([...Object.keys(before), ...Object.keys(after)])) {
    const [was, is] = [before[key], after[key]];
    if (was === is) continue;
    const span = was && is ? curveSpan(was, is) : "all";
    if (span === "all") return "all";
    if (span) joined = joined ? { start: Math.min(joined.start, span.start), end: Math.max(joined.end, span.end) } : span;
  }
  return joined;
}

export const keyColumns = ["times", "values", "slopeIn", "slopeOut", "weightIn", "weightOut", "kindIn", "kindOut"] as const;

type Column = Float64Array | Uint8Array;

/** So many numbers are alike from the start of two columns on, of `most` that are looked at. */
function alikeAtStart(a: Column, b: Column, most: number): number {
  if (a === b) return most;
  let n = 0;
  while (n < most && a[n] === b[n]) n++;
  return n;
}

/** The same from the end. */
function alikeAtEnd(a: Column, b: Column, most: number): number {
  if (a === b) return most;
  let n = 0;
  while (n < most && a[a.length - 1 - n] === b[b.length - 1 - n]) n++;
  return n;
}

/** From the key before the first that differs to the one after the last; beyond the ends as far as a hold reaches. */
export function curveSpan(was: Curve, is: Curve): FrameRange | "all" | null {
  if (was.runIn !== is.runIn || was.runOut !== is.runOut) return "all";
  if (is.runIn.kind !== "hold" || is.runOut.kind !== "hold") return "all";
  const [n, m] = [was.times.length, is.times.length];
  const first = keyColumns.reduce((most, name) => alikeAtStart(was[name], is[name], most), Math.min(n, m));
  if (first === n && first === m) return null;
  const last = keyColumns.reduce((most, name) => alikeAtEnd(was[name], is[name], most), Math.min(n, m) - first);
  // A first or last key that only turned holds outside what it held.
  const stays = (i: number, j: number) => was.times[i] === is.times[j] && was.values[i] === is.values[j];
  return {
    start: first > 0 ? is.times[first - 1] : stays(0, 0) ? is.times[0] : Number.NEGATIVE_INFINITY,
    end: last > 0 ? is.times[m - last] : stays(n - 1, m - 1) ? is.times[m - 1] : Number.POSITIVE_INFINITY,
  };
}
