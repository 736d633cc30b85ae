import type { Outcome, Scope, Shot } from "@kneader/core";
import * as Comlink from "comlink";
import { CurveSync } from "./curveSync.ts";
import type { OperationsApi } from "./operations.worker.ts";

const worker = new Worker(new URL("./operations.worker.ts", import.meta.url), { type: "module" });
const remote = Comlink.wrap<OperationsApi>(worker);
const sync = new CurveSync("page");
let jobs = 0;
let running = 0;

export class Cancelled extends Error {}

export interface Job {
  readonly done: Promise<Outcome>;
  cancel(): void;
}

/** Run an operation in the worker. Rejects with `Cancelled`, or an Error whose message is for the user. */
export function runOperation(
  operation: string,
  shot: Shot,
  scope: Scope,
  settings: unknown,
  { firstLook = false, progress = () => undefined }: { firstLook?: boolean; progress?: (share: number) => void } = {},
): Job {
  const job = ++jobs;
  running++;
  const run = async (): Promise<Outcome> => {
    try {
      const answer = await remote.run(job, operation, sync.pack(shot), scope, settings, firstLook, Comlink.proxy(progress));
      if ("ok" in answer) return { ...answer.ok, shot: sync.unpack(answer.ok.shot) };
      throw answer.cancelled ? new Cancelled("Cancelled.") : new Error(answer.failed);
    } finally {
      running--;
    }
  };
  return { done: run(), cancel: () => void remote.cancel(job) };
}

/** Let both sides forget curves that no open shot needs, so that a long day does not fill memory. */
export async function forgetUnused(shots: readonly Shot[]): Promise<void> {
  if (running > 0) return;
  const gone = sync.unused(shots);
  if (gone.length === 0) return;
  sync.forget(gone);
  await remote.forget(gone);
}
