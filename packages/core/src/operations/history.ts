import { type Curve, keyCount } from "../curve/curve.ts";
import type { Shot } from "../model/shot.ts";
import { allCurves } from "../model/shotFields.ts";

/** One step of a shot's history: what it was called and the shot as it was after it. */
export interface Step {
  readonly name: string;
  readonly shot: Shot;
  /** Milliseconds since 1970. */
  readonly at: number;
  /** The operation that made it, with which it can be run again elsewhere. */
  readonly made?: { readonly operation: string; readonly scope: unknown; readonly settings: unknown };
}

/**
 * All steps of a shot, the first being the shot as opened, and which of them is the present one.
 * Keeping shots is cheap, as unchanged curves are shared between steps.
 */
export interface History {
  readonly steps: readonly Step[];
  readonly present: number;
}

/** Columns a key takes up: six of eight bytes, two of one. */
const BYTES_A_KEY = 50;

export function startHistory(shot: Shot, at: number): History {
  return { steps: [{ name: "As opened", shot, at }], present: 0 };
}

export function currentShot(history: History): Shot {
  return history.steps[history.present].shot;
}

/**
 * Add a step after the present one (what had been undone is gone) and forget the oldest steps while
 * the whole holds more than `limit` bytes of curves. The present step always stays.
 */
export function commit(history: History, step: Step, limit = 512 * 1024 * 1024): History {
  let steps = [...history.steps.slice(0, history.present + 1), step];
  while (steps.length > 2 && historyBytes(steps) > limit) steps = steps.slice(1);
  return { steps, present: steps.length - 1 };
}

export function undo(history: History): History {
  return history.present > 0 ? { ...history, present: history.present - 1 } : history;
}

export function redo(history: History): History {
  return history.present < history.steps.length - 1 ? { ...history, present: history.present + 1 } : history;
}

export function goTo(history: History, present: number): History {
  return present >= 0 && present < history.steps.length ? { ...history, present } : history;
}

/** Bytes of all curves of these steps, shared ones counted once. */
export function historyBytes(steps: readonly Step[]): number {
  const seen = new Set<Curve>();
  let bytes = 0;
  for (const step of steps)
    for (const [, curve] of allCurves(step.shot)) {
      if (seen.has(curve)) continue;
      seen.add(curve);
      bytes += keyCount(curve) * BYTES_A_KEY;
    }
  return bytes;
}
