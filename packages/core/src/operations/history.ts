import { type Curve, keyCount } from "../curve/curve.ts";
import type { Shot } from "../model/shot.ts";
import { curveToJson } from "../formats/curveJson.ts";
import { checkSettings, operationById } from "./catalogue.ts";
import { noContext, type Operation, type Outcome, type Scope } from "./operation.ts";
import { runOperation } from "./runOperation.ts";
import { allCurves } from "../model/shotFields.ts";

/** What made a step, as JSON: with it the same can be done again elsewhere. */
export interface Made {
  readonly operation: string;
  readonly scope: Scope;
  readonly settings: unknown;
}

/** One step of a shot's history: what it was called and the shot as it was after it. */
export interface Step {
  readonly name: string;
  readonly shot: Shot;
  /** Milliseconds since 1970. */
  readonly at: number;
  /** Only the first step, the shot as opened, was made by nothing. */
  readonly made?: Made;
}

/** An operation with its scope and settings as JSON; curves in them are written as files have them. */
export function madeBy(operation: Pick<Operation, "id">, scope: Scope, settings: unknown): Made {
  return { operation: operation.id, scope, settings: plain(settings) };
}

function plain(value: unknown): unknown {
  if (typeof value !== "object" || value === null) return value;
  if ((value as Partial<Curve>).times instanceof Float64Array) return curveToJson(value as Curve);
  if (Array.isArray(value)) return value.every((part) => typeof part !== "object") ? value : value.map(plain);
  return Object.fromEntries(Object.entries(value).map(([name, part]) => [name, plain(part)]));
}

/** Do what a step did on a shot. Errors: those of the operation. */
export async function doAgain({ operation, scope, settings }: Made, shot: Shot): Promise<Outcome> {
  const found = operationById(operation);
  return runOperation(found, shot, scope, checkSettings(found, settings), noContext);
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
