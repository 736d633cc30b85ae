import { cpus } from "node:os";
import { Worker as Thread } from "node:worker_threads";
import type { Fitter } from "@kneader/core";
import nodeEndpoint from "comlink/dist/esm/node-adapter";
import { FitPool, helpersOn } from "../apps/web/src/workers/fitPool.ts";
import { fromRoot } from "./fromRoot.ts";

/** A thread, as the page knows its workers. */
function startHelper(): Worker {
  const thread = new Thread(fromRoot("bench/dist/fitHelper.js"));
  const endpoint = nodeEndpoint(thread);
  const addEventListener = (type: string, listener: EventListener) => {
    if (type === "message") endpoint.addEventListener(type, listener);
    else thread.on(type, () => listener(new Event(type, { cancelable: true })));
  };
  return { ...endpoint, addEventListener, terminate: () => void thread.terminate() } as unknown as Worker;
}

/** The helpers that the application has on this machine; none on one processor. */
export function benchFitter(): Fitter | undefined {
  const help = helpersOn(cpus().length);
  return help ? new FitPool(startHelper, help) : undefined;
}
