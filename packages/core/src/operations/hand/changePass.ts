import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { curveSchema } from "../../formats/curveJson.ts";
import { markColours, type Pass, withPass } from "../../model/shot.ts";
import { passOf } from "../../passes/editPasses.ts";
import { byHand } from "./handOperation.ts";

const curve = z.union([z.custom<Curve>((given) => (given as Curve | null)?.times instanceof Float64Array), curveSchema]);

const settings = z.object({
  pass: z.string(),
  to: z
    .object({
      name: z.string().trim().min(1),
      on: z.boolean(),
      solo: z.boolean(),
      locked: z.boolean(),
      colour: z.enum(markColours).nullable(),
      compose: z.enum(["channel", "rotation"]),
      weight: curve,
      range: z.object({ start: z.number(), end: z.number(), easeIn: z.number(), easeOut: z.number() }).nullable(),
      settings: z.record(z.string(), z.unknown()),
      curves: z.record(z.string(), curve),
    })
    .partial(),
});
type Told = z.infer<typeof settings>["to"];

function sayChange({ name, weight }: Pass, to: Told): string {
  if (to.name !== undefined) return `Rename to ${to.name}`;
  if (to.on !== undefined) return `${name} ${to.on ? "on" : "off"}`;
  if (to.solo !== undefined) return `${name} ${to.solo ? "alone" : "with the others"}`;
  if (to.locked !== undefined) return `${to.locked ? "Lock" : "Unlock"} ${name}`;
  if (to.colour !== undefined) return `Colour of ${name}`;
  if (to.compose !== undefined) return `${name} composes ${to.compose === "rotation" ? "as rotations" : "per channel"}`;
  if (to.weight === undefined) return `Range of ${name}`;
  if (to.weight.times.length > weight.times.length) return `Key the weight of ${name}`;
  if (to.weight.times.length < weight.times.length && to.weight.times.length > 1) return `Remove a weight key of ${name}`;
  return to.weight.times.length === 1 ? `${name} at ${Math.round(to.weight.values[0] * 100)} %` : `Weight of ${name}`;
}

/** A pass's switches, name, colour, weight and range. */
export const changePass = byHand<z.infer<typeof settings>>({
  id: "change-pass",
  title: "Change a pass",
  help: "Changes what a pass is told.",
  settings,
  named: true,
  edit(shot, _scope, { pass: id, to }) {
    const pass = passOf(shot, id);
    return { shot: withPass(shot, id, (before) => ({ ...before, ...to })), summary: sayChange(pass, to) };
  },
});
