import type { Exported, Shot, WriteChoices } from "@kneader/core";
import * as Comlink from "comlink";
import { Cancelled } from "./operationsLink.ts";
import type { WriterApi } from "./writer.worker.ts";

/** What somebody who waits hears, and how they stop it. */
export interface Waiting {
  readonly signal: AbortSignal;
  progress(share: number): void;
}

/** The page's end of the worker that writes files: it is kept for the next file, and ended where one is not wanted any more. */
export class WriterLink {
  private readonly start: () => Worker;
  /** The remote is kept with its worker: one that is let go of takes the worker's ear with it. */
  private open: { readonly worker: Worker; readonly remote: Comlink.Remote<WriterApi> } | null = null;

  constructor(start: () => Worker) {
    this.start = start;
  }

  /** Write a file. Errors: `Cancelled` on the signal; what the format says, or that the worker is gone, as an Error for the user. */
  async write(format: string, shot: Shot, choices: WriteChoices, { signal, progress }: Waiting): Promise<Exported> {
    if (signal.aborted) throw new Cancelled("Cancelled.");
    this.open ??= this.begin();
    const { open } = this;
    const { worker, remote } = open;
    let stop = (): void => undefined;
    let broke = (_: ErrorEvent): void => undefined;
    const gone = new Promise<never>((_, reject) => {
      const end = (error: Error) => {
        worker.terminate();
        if (this.open === open) this.open = null;
        reject(error);
      };
      stop = () => end(new Cancelled("Cancelled."));
      broke = ({ message }) => end(new Error(`The file was not written: ${message || "its worker could not be loaded"}. Try it again.`));
    });
    signal.addEventListener("abort", stop);
    worker.addEventListener("error", broke);
    try {
      const answer = await Promise.race([remote.write(format, shot, choices, Comlink.proxy(progress)), gone]);
      if ("failed" in answer) throw new Error(answer.failed);
      return answer.ok;
    } finally {
      signal.removeEventListener("abort", stop);
      worker.removeEventListener("error", broke);
    }
  }

  private begin(): NonNullable<WriterLink["open"]> {
    const worker = this.start();
    return { worker, remote: Comlink.wrap<WriterApi>(worker) };
  }
}
