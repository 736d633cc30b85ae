import type { Shot } from "@kneader/core";
import { OperationsLink } from "./operationsLink.ts";

/** A worker for operations. */
export const operationsLink = () =>
  new OperationsLink(() => new Worker(new URL("./operations.worker.ts", import.meta.url), { type: "module" }));

/** The one in which the bench's operations run. */
const link = operationsLink();

export const runInWorker = link.run.bind(link);
export const openWork = link.open.bind(link);

/** Let both sides forget curves that no open shot needs, so that a long day does not fill memory. */
export const forgetUnused = (shots: readonly Shot[]): Promise<void> => link.forgetUnused(shots);
