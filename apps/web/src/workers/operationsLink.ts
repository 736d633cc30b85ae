import type { Outcome, Scope, Shot } from "@kneader/core";
import * as Comlink from "comlink";
import { CurveSync } from "./curveSync.ts";
import { type Interim, unpackInterim } from "./interim.ts";
import type { OperationsApi } from "./operations.worker.ts";

export class Cancelled extends Error {}

/** The worker went away in the middle of the work. */
class Lost extends Error {}

export interface Job {
  readonly done: Promise<Outcome>;
  cancel(): void;
  /** Other settings for work that goes on. */
  steer(settings: unknown): void;
  /** Once it is done: was it told something that it no longer heard? */
  isBehind(): boolean;
}

/** Work on a shot that goes on in the worker: the shot is handed over once, then tried with one setting after another. */
export interface Work {
  /** Rejects with `Cancelled`, or an Error whose message is for the user. */
  step(scope: Scope, settings: unknown, options?: RunOptions): Job;
  /** The worker lets go of the shot. */
  close(): void;
}

interface RunOptions {
  readonly firstLook?: boolean;
  readonly progress?: (share: number) => void;
  /** What it has so far, of work that gets better and better. */
  readonly show?: (sofar: Outcome) => void;
}

/** A worker that lives, and what both sides know. */
interface Connection {
  readonly worker: Worker;
  readonly remote: Comlink.Remote<OperationsApi>;
  readonly sync: CurveSync;
  /** Rejects when the worker is found to be gone. */
  readonly lost: Promise<never>;
  lose(why: string): void;
}

/** So many curves are nothing to speak of. */
const CROWD = 2000;

/** How often a working worker is asked whether it is there, and how long it may be silent: work breathes far more often. */
const ASKED_EACH = 2000;
const SILENCE = 15_000;

/**
 * The page's end of the worker: runs operations, notices when the worker is gone (it failed to load, broke down, or
 * no longer answers), and starts another one. Work that was lost is tried once more before that is said.
 */
export class OperationsLink {
  private readonly start: () => Worker;
  private connection: Connection | null = null;
  private jobs = 0;
  private works = 0;
  private running = 0;
  /** Shots that are worked on, by the number of their work, and the one that came last. */
  private readonly atWork = new Map<number, Shot>();
  private latest: Shot | null = null;
  /** With more curves than this known, those that nobody needs any more are forgotten. */
  private crowd = CROWD;
  private watch: ReturnType<typeof setInterval> | undefined;

  constructor(start: () => Worker) {
    this.start = start;
  }

  /** Begin work on a shot. The worker hears of it at the first step, and a new one hears of it again. */
  open(operation: string, shot: Shot): Work {
    const id = ++this.works;
    this.atWork.set(id, shot);
    const known = new WeakSet<Connection>();
    const opened = (connection: Connection): void => {
      if (known.has(connection)) return;
      known.add(connection);
      void connection.remote.open(id, operation, connection.sync.pack(shot)).catch(() => undefined);
    };
    return {
      step: (scope, settings, options = {}) => this.persist(() => this.attempt(id, shot, opened, scope, settings, options)),
      close: () => {
        this.atWork.delete(id);
        const { connection } = this;
        if (connection && known.has(connection)) void connection.remote.close(id).catch(() => undefined);
      },
    };
  }

  /** Do one piece of work and be done with it. */
  run(operation: string, shot: Shot, scope: Scope, settings: unknown, options: RunOptions = {}): Job {
    const work = this.open(operation, shot);
    const { done, ...job } = work.step(scope, settings, options);
    return { done: done.finally(work.close), ...job };
  }

  /** Work that is lost with its worker is tried once more. */
  private persist(attempt: () => Job): Job {
    let cancelled = false;
    let stop = (): void => undefined;
    let steer: Job["steer"] = () => undefined;
    let isBehind: Job["isBehind"] = () => false;
    const work = async (): Promise<Outcome> => {
      for (let tries = 1; ; tries++) {
        try {
          const tried = attempt();
          stop = tried.cancel;
          steer = tried.steer;
          isBehind = tried.isBehind;
          return await tried.done;
        } catch (error) {
          if (cancelled) throw new Cancelled("Cancelled.");
          if (!(error instanceof Lost)) throw error;
          if (tries === 2)
            throw new Error(`The work stopped by itself: ${error.message}. Nothing was changed; try it again, or on less at once.`);
        }
      }
    };
    return {
      done: work(),
      cancel: () => {
        cancelled = true;
        stop();
      },
      steer: (settings) => steer(settings),
      isBehind: () => isBehind(),
    };
  }

  /** The worker is no longer needed; what it still does is lost. */
  dismiss(): void {
    this.connection?.lose("it was ended");
  }

  /** Let both sides forget curves that no shot uses. */
  async forgetUnused(shots: readonly Shot[]): Promise<void> {
    if (this.running > 0 || !this.connection) return;
    const { sync, remote, lost } = this.connection;
    const gone = sync.unused(shots);
    if (gone.length === 0) return;
    sync.forget(gone);
    await Promise.race([remote.forget(gone), lost]).catch(() => undefined);
  }

  private attempt(
    id: number,
    shot: Shot,
    opened: (connection: Connection) => void,
    scope: Scope,
    settings: unknown,
    options: RunOptions,
  ): Job {
    const connection = this.connect();
    const { remote, sync, lost } = connection;
    const job = ++this.jobs;
    const { firstLook = false, progress = () => undefined, show = () => undefined } = options;
    const seen = async (sofar: Interim) => show(unpackInterim(shot, sofar));
    let sent = 0;
    let heard = 0;
    const run = async (): Promise<Outcome> => {
      this.begin();
      try {
        opened(connection);
        const answer = await Promise.race([
          remote.step(id, job, scope, settings, firstLook, Comlink.proxy(progress), Comlink.proxy(seen)),
          lost,
        ]);
        if ("ok" in answer) heard = answer.heard;
        if ("ok" in answer) {
          this.latest = sync.unpack(answer.ok.shot, shot);
          return { ...answer.ok, shot: this.latest };
        }
        throw answer.cancelled ? new Cancelled("Cancelled.") : new Error(answer.failed);
      } finally {
        this.end();
      }
    };
    return {
      done: run(),
      cancel: () => void remote.cancel(job).catch(() => undefined),
      steer: (told) => {
        sent++;
        void remote.steer(job, told).catch(() => undefined);
      },
      isBehind: () => sent > heard,
    };
  }

  private connect(): Connection {
    if (this.connection) return this.connection;
    const worker = this.start();
    let lose: Connection["lose"] = () => undefined;
    const lost = new Promise<never>((_, reject) => {
      lose = (why) => {
        if (this.connection?.worker === worker) this.connection = null;
        worker.terminate();
        reject(new Lost(why));
      };
    });
    // Heard by those who wait for work; when nobody does there is nothing to say.
    lost.catch(() => undefined);
    worker.addEventListener("error", (event) => {
      event.preventDefault();
      lose(event.message ? `the worker broke down (${event.message})` : "the worker could not be loaded");
    });
    worker.addEventListener("messageerror", () => lose("the worker's answer could not be read"));
    this.connection = { worker, remote: Comlink.wrap<OperationsApi>(worker), sync: new CurveSync("page"), lost, lose };
    return this.connection;
  }

  private begin(): void {
    this.running++;
    this.watch ??= setInterval(() => void this.ask(), ASKED_EACH);
  }

  private end(): void {
    this.running--;
    if (this.running > 0) return;
    clearInterval(this.watch);
    this.watch = undefined;
    this.tidy();
  }

  /** Every preview leaves curves behind that only it had: a slider moved for an hour must not fill the memory of both sides. */
  private tidy(): void {
    const { connection } = this;
    if (!connection || connection.sync.size <= this.crowd) return;
    void this.forgetUnused([...this.atWork.values(), ...(this.latest ? [this.latest] : [])]);
    this.crowd = CROWD + 2 * connection.sync.size;
  }

  /** Ask whether the worker is there; give it up when it is silent for too long. */
  private async ask(): Promise<void> {
    const asked = this.connection;
    if (!asked) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const silence = new Promise<never>((_, reject) => {
      timer = setTimeout(() => reject(new Error("silent")), SILENCE);
    });
    try {
      await Promise.race([asked.remote.ping(), silence, asked.lost]);
    } catch {
      if (this.connection === asked && this.running > 0) asked.lose(`the worker has not answered for ${SILENCE / 1000} seconds`);
    } finally {
      clearTimeout(timer);
    }
  }
}
