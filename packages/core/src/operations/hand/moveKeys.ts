import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { copyKeys, type KeyMap, keyMapper, rippleKeys } from "../../curve/mapKeys.ts";
import { countKeys, layerCurves } from "../../model/shot.ts";
import { byHand, keysWord } from "./handOperation.ts";
import { editKeys, pickedCount } from "./pickedKeys.ts";

const settings = z.object({
  timeScale: z.number().positive().default(1),
  timeShift: z.number().default(0),
  valueScale: z.number().default(1),
  valueShift: z.number().default(0),
  wholeFrames: z.boolean().default(false),
  /** What it does to others: nothing, later ones shift along, or the keys stay and copies go. */
  carry: z.enum(["move", "ripple", "copy"]).default("move"),
});
export type Carry = z.infer<typeof settings>["carry"];

/** The edit of one curve that takes its picked keys where a map says. */
export function carrier(map: KeyMap, carry: Carry): (curve: Curve, indices: number[]) => Curve {
  if (carry === "copy") return (curve, indices) => copyKeys(curve, indices, map);
  if (carry === "ripple") return (curve, indices) => (indices.length > 0 ? rippleKeys(curve, indices, map) : curve);
  return keyMapper(map);
}

/** Drag, squeeze or stretch the picked keys, or type where they are. */
export const moveKeysByHand = byHand<z.infer<typeof settings>>({
  id: "move-keys",
  title: "Move keys",
  help: "Takes the picked keys elsewhere in time and value.",
  settings,
  edit(shot, { layer, keys }, { carry, ...map }) {
    const picked = keys ?? {};
    const count = pickedCount(picked);
    const after = editKeys(shot, layer, picked, carrier(map, carry));
    const copies = carry === "copy" ? count : 0;
    const gone = countKeys(layerCurves(shot, layer)) + copies - countKeys(layerCurves(after, layer));
    const scales = map.timeScale !== 1 || map.valueScale !== 1;
    const words = carry === "copy" ? `Copy ${keysWord(copies)}` : `${scales ? "Scale" : "Move"} ${keysWord(count)}`;
    const name = carry === "ripple" ? `${words} and all later ones` : words;
    return { shot: after, summary: gone > 0 ? `${name}; ${gone} fell on others and gave way` : name };
  },
});
