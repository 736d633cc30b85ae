import {
  checkSettings,
  type Context,
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
import { FitPool, helpersOn } from "./fitPool.ts";
import { type Interim, packInterim } from "./interim.ts";
import { BREATH, letMessagesIn } from "./letMessagesIn.ts";
import { HELPED } from "./helped.ts";

export interface PackedOutcome extends Omit<Outcome, "shot"> {
  readonly shot: PackedShot;
}
export type Answer = { readonly ok: PackedOutcome; readonly heard: number } | { readonly failed: string; readonly cancelled: boolean };

const sync = new CurveSync("worker");
const cancelled = new Set<number>();
/** Settings told to jobs that go on, and how many times each was told since it last looked. */
const told = new Map<number, { readonly settings: unknown; readonly times: number }>();
const going = new Set<number>();
/** What a job has so far, and how far it is, is told so often at the most (milliseconds): more pictures than that nobody sees. */
const SHOWN_EACH = 60;
/** What takes long to tell is told less often: no more than this share of the time goes into telling. */
const TOLD_SHARE = 0.5;
/** The shot that was worked on last: the next one is mostly the same. */
let last: Shot | null = null;

/** Helpers for fits, where this is the only worker. */
const startHelper = () => new Worker(new URL("./fit.worker.ts", import.meta.url), { type: "module" });
const help = self.name === HELPED ? helpersOn(navigator.hardwareConcurrency) : null;
const pool = help ? new FitPool(startHelper, help) : undefined;

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
    show: (sofar: Interim) => Promise<void>,
  ): Promise<Answer> {
    try {
      const open = work.get(id);
      if (!open) throw new KneaderError("not-found", "That work is closed.");
      const { operation, shot } = open;
      let breathed = performance.now();
      let shown = breathed;
      let said = breathed;
      let isSeen = true;
      let rest = SHOWN_EACH;
      let heard = 0;
      const hear = (): unknown => {
        const latest = told.get(job);
        told.delete(job);
        heard += latest?.times ?? 0;
        return latest?.settings;
      };
      going.add(job);
      const context: Context = {
        firstLook,
        fitter: pool,
        latest: () => (told.has(job) ? checkSettings(operation, hear()) : null),
        // Shown anew once the page has taken in what was shown before.
        show(sofar) {
          if (!isSeen || performance.now() - shown < rest) return;
          shown = performance.now();
          const interim = packInterim(shot, sofar());
          rest = Math.max(SHOWN_EACH, (performance.now() - shown) / TOLD_SHARE);
          isSeen = false;
          void show(interim).then(() => {
            isSeen = true;
          });
        },
        async breathe(share) {
          if (performance.now() - breathed < BREATH) return;
          if (performance.now() - said >= SHOWN_EACH) {
            said = performance.now();
            progress(share);
          }
          await letMessagesIn();
          breathed = performance.now();
          if (cancelled.has(job)) throw new KneaderError("cancelled", "Cancelled.");
        },
      };
      let outcome = await runOperation(operation, shot, scope, checkSettings(operation, settings), context);
      // Told just as it came to its end: not passed over.
      while (told.has(job)) outcome = await runOperation(operation, shot, scope, checkSettings(operation, hear()), context);
      return { ok: { ...outcome, shot: sync.pack(outcome.shot, shot) }, heard };
    } catch (error) {
      return { failed: sayError(error), cancelled: error instanceof KneaderError && error.code === "cancelled" };
    } finally {
      cancelled.delete(job);
      told.delete(job);
      going.delete(job);
    }
  },
  /** Tell a job that goes on other settings; it takes them up when it next looks. */
  steer(job: number, settings: unknown): void {
    if (going.has(job)) told.set(job, { settings, times: (told.get(job)?.times ?? 0) + 1 });
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
