import { z } from "zod";
import type { ChannelKey } from "../../model/rig.ts";
import type { FrameRange, Shot } from "../../model/shot.ts";
import { simplify } from "../clean/simplify.ts";
import type { Context } from "../operation.ts";

/** How far fewest keys may leave the motion. */
export const fewestSettings = {
  rotation: z
    .number()
    .min(0)
    .max(90)
    .default(0.1)
    .meta({ title: "Rotation within", unit: "degrees", max: 5, step: 0.05, when: { keys: "fewest" } }),
  move: z
    .number()
    .min(0)
    .default(0.001)
    .meta({ title: "Position within", unit: "length", max: 0.1, step: 0.001, when: { keys: "fewest" } }),
};

/** Leave the fewest keys within a tolerance on channels of base motion that have one on every frame. */
export async function fewestKeys(
  shot: Shot,
  channels: readonly ChannelKey[],
  range: FrameRange | null,
  { rotation, move }: { readonly rotation: number; readonly move: number },
  context: Context,
): Promise<Shot> {
  const keyed = channels.filter((key) => shot.base[key]);
  if (keyed.length === 0) return shot;
  const scope = { controls: null, channels: keyed, keys: null, range, layer: "base" };
  return (
    await simplify.run(shot, scope, simplify.settings.parse({ rotation, move, together: "control" }), { ...context, firstLook: true })
  ).shot;
}
