import {
  checkSettings,
  KneaderError,
  type Operation,
  operationById,
  type Outcome,
  runOperation,
  sayError,
  type Scope,
  type Shot,
} from "@kneader/core";
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

/** Work that goes on: an operation on a shot, tried with one setting after another. */
interface OpenWork {
  readonly operation: Operation;
  readonly shot: Shot;
}
const work = new Map<number, OpenWork>();

const api = {
  /** Make a shot ready for an operation. The shot stays here until the work is closed. */
  open(id: number, operation: string, packed: PackedShot): void {
    last = sync.unpack(packed, last);
    work.set(id, { operation: operationById(operation), shot: last });
  },
  /** Do the work with some settings. Messages, a cancel among them, are heard whenever it breathes. */
  async step(
    id: number,
    job: number,
    scope: Scope,
    settings: unknown,
    firstLook: boolean,
    progress: (share: number) => void,
  ): Promise<Answer> {
    try {
      const open = work.get(id);
      if (!open) throw new KneaderError("not-found", "That work is closed.");
      const { operation, shot } = open;
      let breathed = performance.now();
      const outcome = await runOperation(operation, shot, scope, checkSettings(operation, settings), {
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
  close(id: number): void {
    work.delete(id);
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
