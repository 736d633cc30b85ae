import { z } from "zod";
import { removeKeys } from "../../curve/edit.ts";
import { byHand, keysWord } from "./handOperation.ts";
import { editKeys, pickedCount } from "./pickedKeys.ts";

const settings = z.object({ cut: z.boolean().default(false) });

/** Take the picked keys away. */
export const removeKeysByHand = byHand<z.infer<typeof settings>>({
  id: "remove-keys",
  title: "Remove keys",
  help: "Takes the picked keys away; a curve that loses its last key goes.",
  settings,
  edit(shot, { layer, keys }, { cut }) {
    const count = pickedCount(keys ?? {});
    return { shot: editKeys(shot, layer, keys ?? {}, removeKeys), summary: `${cut ? "Cut" : "Remove"} ${keysWord(count)}` };
  },
});
