import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { KneaderError, sayError } from "../errors.ts";
import { rotationOrders } from "../maths/rotation.ts";
import type { Action } from "../model/action.ts";
import type { Clip } from "../model/clip.ts";
import { markColours, type Shot } from "../model/shot.ts";
import { passKind, computedKind } from "../passes/kinds.ts";
import { constraintKind } from "../constraints/kinds.ts";
import { controlRoles } from "../model/rig.ts";
import { mapCurves } from "../model/shotFields.ts";
import { checkShot } from "./checkShot.ts";
import { curveSchema, curveToJson } from "./curveJson.ts";
import { isRecord, migrate, SCHEMA_VERSION } from "./migrate.ts";
import { sayIssue } from "./sayIssue.ts";

const three = z.tuple([z.number(), z.number(), z.number()]);
export const mirrorSchema = z.union([z.literal("left out"), z.object({ flips: z.array(z.string()) })]);
export const rangesSchema = z.record(z.string(), z.tuple([z.number(), z.number()]));
const control = z.object({
  id: z
    .string()
    .min(1)
    .refine((id) => !id.includes("."), "an id may hold no dot"),
  name: z.string(),
  parent: z.string().nullable(),
  rest: three,
  restTurn: z.tuple([z.number(), z.number(), z.number(), z.number()]),
  order: z.enum(rotationOrders),
  channels: z.array(z.string().min(1)),
  partner: z.string().nullable(),
  mirror: mirrorSchema.optional(),
  ranges: rangesSchema.optional(),
  role: z.enum(controlRoles),
  part: z.string(),
  tip: three.optional(),
});

/** Parents stand before children, which also rules out circles. */
const controls = z.array(control).superRefine((list, ctx) => {
  const seen = new Set<string>();
  list.forEach((c, i) => {
    if (seen.has(c.id)) ctx.addIssue({ code: "custom", path: [i, "id"], message: `"${c.id}" stands twice` });
    if (c.parent !== null && !seen.has(c.parent))
      ctx.addIssue({ code: "custom", path: [i, "parent"], message: `"${c.parent}" must stand before its child "${c.id}"` });
    seen.add(c.id);
  });
});

const rig = z.object({
  id: z.string(),
  name: z.string(),
  controls,
  figure: z.string().nullable(),
  sides: z.object({ axis: z.enum(["x", "y", "z"]), at: z.number() }).optional(),
});
const rate = z.object({ num: z.number().positive(), den: z.number().positive() });

const writtenCard = z.object({
  id: z.string(),
  name: z.string(),
  notes: z.string(),
  tags: z.array(z.string()),
  folder: z.string(),
  savedAt: z.number(),
  about: z.object({ frames: z.number(), curves: z.number(), moves: z.array(z.string()) }).optional(),
});

/** What a clip has besides its curves. */
const clipFields = {
  rate,
  from: z.number(),
  length: z.number().min(0),
  whole: z.boolean(),
  controls,
  figure: z.string().nullable(),
};

/** What a kind has to say against the settings of a pass or a constraint. */
function settingsIssues(schema: z.ZodType | undefined, settings: unknown, ctx: z.RefinementCtx): void {
  for (const issue of schema?.safeParse(settings).error?.issues ?? [])
    ctx.addIssue({ code: "custom", path: ["settings", ...issue.path], message: issue.message });
}

/** The shot's fields; a curve is written in full in a file, and handed over as it is where records are read. */
function shotWith(curve: z.ZodType<Curve>) {
  const curves = z.record(z.string(), curve);
  const range = z.object({ start: z.number(), end: z.number() }).refine((r) => r.end >= r.start, "the range ends before it starts");
  const pass = z
    .object({
      id: z.string(),
      name: z.string(),
      kind: z.string().refine((kind) => passKind(kind) !== undefined, "this kind of pass is not known"),
      compose: z.enum(["channel", "rotation"]),
      on: z.boolean(),
      solo: z.boolean(),
      locked: z.boolean(),
      colour: z.enum(markColours).nullable(),
      weight: curve,
      range: z.object({ start: z.number(), end: z.number(), easeIn: z.number().min(0), easeOut: z.number().min(0) }).nullable(),
      members: z.array(z.string()).nullable(),
      settings: z.record(z.string(), z.unknown()),
      curves,
    })
    .superRefine((p, ctx) => settingsIssues(computedKind(p.kind)?.settings, p.settings, ctx));
  const constraint = z
    .object({
      id: z.string().min(1),
      name: z.string(),
      kind: z.string().refine((kind) => constraintKind(kind) !== undefined, "this kind of constraint is not known"),
      on: z.boolean(),
      solo: z.boolean().optional(),
      colour: z.enum(markColours).nullable().optional(),
      settings: z.record(z.string(), z.unknown()),
      curves,
    })
    .superRefine((c, ctx) => settingsIssues(constraintKind(c.kind)?.settings, c.settings, ctx));
  return z.object({
    id: z.string(),
    name: z.string(),
    rig,
    rate,
    range,
    actions: z.array(z.object({ card: writtenCard, clip: z.object({ ...clipFields, curves }) })),
    cyclic: z.boolean(),
    unitMetres: z.number().positive().nullable(),
    set: z.string().nullable(),
    base: curves,
    passes: z.array(pass),
    constraints: z.array(constraint),
    locked: z.array(z.string()),
    sets: z.array(z.object({ name: z.string().min(1), channels: z.array(z.string()) })),
    versions: z.array(
      z.object({
        id: z.string(),
        name: z.string(),
        passes: z.record(z.string(), z.object({ on: z.boolean(), solo: z.boolean(), weight: curve })),
      }),
    ),
    poseMarks: z.array(z.object({ frame: z.number(), name: z.string(), colour: z.enum(markColours).nullable() })),
    asset: z
      .object({
        hash: z.string().regex(/^[0-9a-f]{64}$/),
        name: z.string(),
        bytes: z.number().int().min(0),
        isDrawn: z.boolean(),
        animation: z.number().int().min(0).nullable(),
        animationName: z.string().nullable(),
        firstFrame: z.number(),
        nodes: z.record(z.string(), z.number().int().min(0)),
        shapes: z.record(z.string(), z.array(z.string())),
      })
      .nullable(),
  });
}

const shotSchema = shotWith(curveSchema);
const recordSchema = shotWith(z.custom<Curve>((curve) => isRecord(curve) && curve.times instanceof Float64Array));

/** A clip as it is written. */
export const writtenClip = z.object({
  ...clipFields,
  curves: z.record(z.string(), curveSchema).refine((curves) => Object.keys(curves).length > 0, "there is no curve"),
});

const writtenAction = z.object({ card: writtenCard, clip: writtenClip });

/** An action as a setting: one already in memory, or its JSON (as in an action file). */
export const actionSchema = z.unknown().transform((given, ctx): Action => {
  if (isAction(given)) return given;
  if (given === undefined || given === null) {
    ctx.addIssue({ code: "custom", message: "choose one from the pantry first" });
    return z.NEVER;
  }
  const isFile = isRecord(given) && given.format === "kneader-action";
  // What bears no version has the shape of today, or of the time before there were cards and clips.
  const version = isFile ? given.version : isRecord(given) && given.card === undefined ? 1 : SCHEMA_VERSION;
  try {
    return parse(migrate("action", version, isFile ? given.action : given), writtenAction, "");
  } catch (error) {
    ctx.addIssue({ code: "custom", message: `not an action: ${sayError(error)}` });
    return z.NEVER;
  }
});

function isAction(value: unknown): value is Action {
  if (!isRecord(value) || !isRecord(value.card) || !isRecord(value.clip)) return false;
  const { curves, controls: list } = value.clip;
  if (!isRecord(curves) || !Array.isArray(list)) return false;
  return Object.values(curves).every((curve) => isRecord(curve) && curve.times instanceof Float64Array);
}

export function clipToJson(clip: Clip): unknown {
  return { ...clip, curves: Object.fromEntries(Object.entries(clip.curves).map(([key, curve]) => [key, curveToJson(curve)])) };
}

export function shotToJson(shot: Shot): Record<string, unknown> {
  return { format: "kneader-shot", version: SCHEMA_VERSION, shot: mapCurves(shot, (curve) => curveToJson(curve) as unknown as Curve) };
}

export function actionToJson({ card, clip }: Action): unknown {
  return { format: "kneader-action", version: SCHEMA_VERSION, action: { card, clip: clipToJson(clip) } };
}

export function shotFromJson(json: unknown): Shot {
  return readFormat(json, "shot", shotSchema) as Shot;
}

/**
 * A shot from a stored record of a version, its curves in place already and kept as they are; what older records do not
 * have is filled in. Errors: `json-syntax`, `shot-data`.
 */
export function shotFromRecord(record: unknown): Shot {
  parse(record, recordSchema, "shot");
  return checkShot(record as Shot);
}

export function actionFromJson(json: unknown): Action {
  return readFormat(json, "action", writtenAction);
}

function readFormat<T>(json: unknown, what: "shot" | "action", schema: z.ZodType<T>): T {
  if (!isRecord(json) || json.format !== `kneader-${what}`)
    throw new KneaderError(
      "json-syntax",
      `This JSON is not a kneader ${what}: its "format" is ${JSON.stringify(isRecord(json) ? json.format : null)}.`,
    );
  return parse(migrate(what, json.version, json[what]), schema, what);
}

function parse<T>(json: unknown, schema: z.ZodType<T>, field: string): T {
  const result = schema.safeParse(json);
  if (result.success) return result.data;
  throw new KneaderError(
    "json-syntax",
    `The file is not as it should be: ${sayIssue(result.error, field)}.`,
    "The file was changed by hand or damaged.",
  );
}
