import type { Fitter, FitInput, FitOptions, FitResult, FitWatch } from "@kneader/core";
import * as Comlink from "comlink";
import type { FitService } from "./fitService.ts";

/** A fit that waits for a helper, or is with one. */
interface Task {
  readonly number: number;
  readonly inputs: readonly FitInput[];
  readonly options: FitOptions;
  readonly watch: FitWatch;
  readonly take: (fit: FitResult) => void;
  readonly refuse: (why: unknown) => void;
}

interface Helper {
  readonly worker: Worker;
  readonly remote: Comlink.Remote<FitService>;
  task: Task | null;
  /** Looks whether it still says something. */
  watching?: ReturnType<typeof setInterval>;
}

/** A helper that says nothing for so long is given up (milliseconds). */
const SILENT = 5000;
/** After so many helpers that broke down none is started any more. */
const PATIENCE = 3;

/** How many helpers there may be, and for how many samples at least they are asked. */
export interface PoolSize {
  readonly size: number;
  readonly worth: number;
}

/** More help is no quicker. */
const MOST = 6;

/**
 * Helpers on so many processors, none where there is one. One is the page's where there are more than two. On two, helpers
 * take the time in which a first look is drawn: only long work has them, which nobody sees at once anyway.
 */
export function helpersOn(processors: number): PoolSize | null {
  if (processors < 2) return null;
  return processors > 2 ? { size: Math.min(MOST, processors - 1), worth: 20_000 } : { size: 2, worth: 500_000 };
}

/** A few workers that do nothing but fit curves, started when they are first needed; each does one fit at a time. */
export class FitPool implements Fitter {
  readonly worth: number;
  private readonly start: () => Worker;
  private readonly size: number;
  private readonly helpers: Helper[] = [];
  private readonly waiting: Task[] = [];
  private numbers = 0;
  private lost = 0;

  constructor(start: () => Worker, { size, worth }: PoolSize) {
    this.start = start;
    this.size = size;
    this.worth = worth;
  }

  readonly fit: Fitter["fit"] = (inputs, options, watch) =>
    new Promise((take, refuse) => {
      const task: Task = { number: ++this.numbers, inputs, options, watch, take, refuse };
      watch.signal.addEventListener("abort", () => this.drop(task), { once: true });
      this.waiting.push(task);
      this.handOut();
    });

  /** Give what waits to whoever has nothing to do. */
  private handOut(): void {
    while (this.waiting.length > 0) {
      const helper = this.helpers.find(({ task }) => task === null) ?? this.another();
      if (!helper) {
        if (this.helpers.length === 0) for (const { refuse } of this.waiting.splice(0)) refuse(new Error("No helper can be had."));
        return;
      }
      this.give(helper, this.waiting.shift() as Task);
    }
  }

  private another(): Helper | null {
    if (this.helpers.length >= this.size || this.lost >= PATIENCE) return null;
    const worker = this.start();
    const helper: Helper = { worker, remote: Comlink.wrap<FitService>(worker), task: null };
    worker.addEventListener("error", (event) => {
      event.preventDefault();
      this.lose(helper);
    });
    this.helpers.push(helper);
    return helper;
  }

  private give(helper: Helper, task: Task): void {
    helper.task = task;
    const { number, inputs, options, watch, take, refuse } = task;
    let heard = performance.now();
    helper.watching = setInterval(() => {
      if (performance.now() - heard > SILENT) this.lose(helper);
    }, SILENT / 4);
    const progress = (share: number) => {
      heard = performance.now();
      if (!watch.signal.aborted) watch.progress(share);
    };
    helper.remote
      .fit(number, inputs, options, Comlink.proxy(progress))
      .then(take, refuse)
      .finally(() => {
        clearInterval(helper.watching);
        if (helper.task === task) helper.task = null;
        this.handOut();
      });
  }

  /** A helper broke down: what it had is refused, and the others go on. */
  private lose(helper: Helper): void {
    const at = this.helpers.indexOf(helper);
    if (at < 0) return;
    this.lost++;
    clearInterval(helper.watching);
    helper.worker.terminate();
    this.helpers.splice(at, 1);
    helper.task?.refuse(new Error("A helper broke down."));
    this.handOut();
  }

  /** A task is wanted no more. */
  private drop(task: Task): void {
    const at = this.waiting.indexOf(task);
    if (at >= 0) this.waiting.splice(at, 1);
    task.refuse(task.watch.signal.reason);
    const helper = this.helpers.find((one) => one.task === task);
    if (helper) void helper.remote.cancel(task.number).catch(() => undefined);
  }
}
