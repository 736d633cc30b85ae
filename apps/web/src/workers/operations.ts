import type { Shot } from "@kneader/core";
import { OperationsLink } from "./operationsLink.ts";

/** The one worker in which operations run. */
const link = new OperationsLink(() => new Worker(new URL("./operations.worker.ts", import.meta.url), { type: "module" }));

export const runInWorker = link.run.bind(link);
export const openWork = link.open.bind(link);

/** Let both sides forget curves that no open shot needs, so that a long day does not fill memory. */
export const forgetUnused = (shots: readonly Shot[]): Promise<void> => link.forgetUnused(shots);
