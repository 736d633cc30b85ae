import { z } from "zod";
import { type Curve, HOLD, THIRD, Tangent, type TangentName, tangentNames } from "../curve/curve.ts";
import { settle } from "../curve/tangents.ts";

const numbers = z.array(z.number());
const kind = z.enum(tangentNames as [TangentName, ...TangentName[]]);
const kinds = z.union([kind, z.array(kind)]);
const runOn = z.object({
  kind: z.enum(["hold", "straight", "repeat", "travel", "pingpong"]),
  rounds: z.number().int().min(0),
});

/** A curve in JSON: columns; what is the same for all keys, or follows from the kinds, is left out. */
const written = z
  .object({
    times: numbers,
    values: numbers,
    kindIn: kinds,
    kindOut: kinds,
    /** Only where some tangent is free. */
    slopeIn: numbers.optional(),
    slopeOut: numbers.optional(),
    /** Only where some handle is not a third. */
    weightIn: numbers.optional(),
    weightOut: numbers.optional(),
    runIn: runOn.optional(),
    runOut: runOn.optional(),
  })
  .superRefine((c, ctx) => {
    const n = c.times.length;
    for (const name of ["values", "slopeIn", "slopeOut", "weightIn", "weightOut", "kindIn", "kindOut"] as const) {
      const column = c[name];
      if (Array.isArray(column) && column.length !== n)
        ctx.addIssue({ code: "custom", path: [name], message: `has ${column.length} entries where there are ${n} times` });
    }
    for (let i = 1; i < n; i++)
      if (!(c.times[i] > c.times[i - 1])) {
        ctx.addIssue({ code: "custom", path: ["times", i], message: "times must rise" });
        break;
      }
    if (n === 0) ctx.addIssue({ code: "custom", path: ["times"], message: "a curve needs a key" });
  });

export type CurveJson = z.infer<typeof written>;

export const curveSchema = written.transform((json): Curve => curveFromJson(json));

function curveFromJson(json: CurveJson): Curve {
  const n = json.times.length;
  const column = (values: number[] | undefined, otherwise: number) =>
    values ? Float64Array.from(values) : new Float64Array(n).fill(otherwise);
  const codes = (names: TangentName | TangentName[]) =>
    typeof names === "string" ? new Uint8Array(n).fill(Tangent[names]) : Uint8Array.from(names, (name) => Tangent[name]);
  return settle({
    times: Float64Array.from(json.times),
    values: Float64Array.from(json.values),
    slopeIn: column(json.slopeIn, 0),
    slopeOut: column(json.slopeOut, 0),
    weightIn: column(json.weightIn, THIRD),
    weightOut: column(json.weightOut, THIRD),
    kindIn: codes(json.kindIn),
    kindOut: codes(json.kindOut),
    runIn: json.runIn ?? HOLD,
    runOut: json.runOut ?? HOLD,
  });
}

export function curveToJson(curve: Curve): CurveJson {
  const names = (codes: Uint8Array): TangentName | TangentName[] =>
    codes.every((code) => code === codes[0]) ? tangentNames[codes[0]] : Array.from(codes, (code) => tangentNames[code]);
  const free = curve.kindIn.includes(Tangent.free) || curve.kindOut.includes(Tangent.free);
  const weighted = curve.weightIn.some((w) => w !== THIRD) || curve.weightOut.some((w) => w !== THIRD);
  return {
    times: [...curve.times],
    values: [...curve.values],
    kindIn: names(curve.kindIn),
    kindOut: names(curve.kindOut),
    ...(free ? { slopeIn: [...curve.slopeIn], slopeOut: [...curve.slopeOut] } : {}),
    ...(weighted ? { weightIn: [...curve.weightIn], weightOut: [...curve.weightOut] } : {}),
    ...(curve.runIn.kind === "hold" ? {} : { runIn: curve.runIn }),
    ...(curve.runOut.kind === "hold" ? {} : { runOut: curve.runOut }),
  };
}
