import { WriterLink } from "./writerLink.ts";

export type { Waiting } from "./writerLink.ts";

const link = new WriterLink(() => new Worker(new URL("./writer.worker.ts", import.meta.url), { type: "module" }));

/** Write a file of a shot, beside the page. */
export const writeInWorker = link.write.bind(link);
