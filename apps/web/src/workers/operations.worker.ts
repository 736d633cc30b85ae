import { checkSettings, KneaderError, operationById, type Outcome, runOperation, sayError, type Scope, type Shot } from "@kneader/core";
import * as Comlink from "comlink";
import { CurveSync, type PackedShot } from "./curveSync.ts";

export interface PackedOutcome extends Omit<Outcome, "shot"> {
  readonly shot: PackedShot;
}
export type Answer = { readonly ok: PackedOutcome } | { readonly failed: string; readonly cancelled: boolean };

const sync = new CurveSync("worker");
const cancelled = new Set<number>();
/** The shot that was worked on last: the next one is mostly the same. */
let last: Shot | null = null;
const pause = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

const api = {
  /** Run an operation. Messages, a cancel among them, are heard whenever the work breathes. */
  async run(
    job: number,
    operation: string,
    packed: PackedShot,
    scope: Scope,
    settings: unknown,
    firstLook: boolean,
    progress: (share: number) => void,
  ): Promise<Answer> {
    try {
      const shot = sync.unpack(packed, last);
      last = shot;
      const chosen = operationById(operation);
      let breathed = performance.now();
      const outcome = await runOperation(chosen, shot, scope, checkSettings(chosen, settings), {
        firstLook,
        async breathe(share) {
          if (performance.now() - breathed < 24) return;
          progress(share);
          await pause();
          breathed = performance.now();
          if (cancelled.has(job)) throw new KneaderError("cancelled", "Cancelled.");
        },
      });
      return { ok: { ...outcome, shot: sync.pack(outcome.shot) } };
    } catch (error) {
      return { failed: sayError(error), cancelled: error instanceof KneaderError && error.code === "cancelled" };
    } finally {
      cancelled.delete(job);
    }
  },
  cancel(job: number): void {
    cancelled.add(job);
  },
  /** Answered as soon as the work breathes: how the page knows that there still is somebody. */
  ping(): true {
    return true;
  },
  forget(numbers: readonly number[]): void {
    last = null;
    sync.forget(numbers);
  },
};

export type OperationsApi = typeof api;
Comlink.expose(api);
