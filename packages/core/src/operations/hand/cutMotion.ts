import { z } from "zod";
import { cutKeys } from "../shared/cutKeys.ts";
import { byHand, keysWord } from "./handOperation.ts";

const settings = z.object({
  /** Frames of poses; empty: the whole range, or the curves as a whole. */
  poses: z.array(z.number()).default([]),
});

/** Take away what a scope means: poses at some frames, a range, or whole curves. */
export const cutMotion = byHand<z.infer<typeof settings>>({
  id: "cut-motion",
  title: "Cut",
  help: "Takes the keys in scope away.",
  settings,
  edit(shot, scope, { poses }) {
    const cut = cutKeys(shot, scope, poses);
    return { shot: cut.shot, summary: `Cut ${keysWord(cut.count)}` };
  },
});
