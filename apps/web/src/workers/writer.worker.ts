import { type Exported, formats, originFile, sayError, type Shot, type WriteChoices } from "@kneader/core";
import * as Comlink from "comlink";

export type Written = { readonly ok: Exported } | { readonly failed: string };

/** A file of a long shot takes seconds: it is written here, and the page goes on. */
const api = {
  async write(format: string, shot: Shot, choices: WriteChoices, progress: (share: number) => void): Promise<Written> {
    try {
      const chosen = [originFile, ...formats].find(({ id }) => id === format);
      if (!chosen) throw new Error(`There is no format "${format}".`);
      const ok = await chosen.write(shot, { ...choices, progress });
      return Comlink.transfer({ ok }, ok.bytes.buffer instanceof ArrayBuffer ? [ok.bytes.buffer] : []);
    } catch (error) {
      return { failed: sayError(error) };
    }
  },
};

export type WriterApi = typeof api;
Comlink.expose(api);
