import type { Fitter, FitInput, FitOptions, FitResult, FitWatch } from "@kneader/core";
import * as Comlink from "comlink";
import type { FitApi } from "./fit.worker.ts";

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
  readonly remote: Comlink.Remote<FitApi>;
  task: Task | null;
  /** Looks whether it still says something. */
  watching?: ReturnType<typeof setInterval>;
}

/** A helper that says nothing for so long is given up (milliseconds). */
const SILENT = 5000;
/** After so many helpers that broke down none is started any more. */
const PATIENCE = 3;

/** A few workers that do nothing but fit curves, started when they are first needed; each does one fit at a time. */
export class FitPool {
  private readonly start: () => Worker;
  private readonly size: number;
  private readonly helpers: Helper[] = [];
  private readonly waiting: Task[] = [];
  private numbers = 0;
  private lost = 0;

  constructor(start: () => Worker, size: number) {
    this.start = start;
    this.size = size;
  }

  readonly fit: Fitter = (inputs, options, watch) =>
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
    const helper: Helper = { worker, remote: Comlink.wrap<FitApi>(worker), task: null };
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
