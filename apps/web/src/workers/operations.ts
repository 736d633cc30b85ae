import type { Shot } from "@kneader/core";
import { HELPED } from "./helped.ts";
import { OperationsLink } from "./operationsLink.ts";

/** A worker for operations; the name says whether it may have helpers. */
export const operationsLink = (name = "") =>
  new OperationsLink(() => new Worker(new URL("./operations.worker.ts", import.meta.url), { type: "module", name }));

/** The one in which the bench's operations run. */
const link = operationsLink(HELPED);

export const runInWorker = link.run.bind(link);
export const openWork = link.open.bind(link);

/** Let both sides forget curves that no open shot needs, so that a long day does not fill memory. */
export const forgetUnused = (shots: readonly Shot[]): Promise<void> => link.forgetUnused(shots);
