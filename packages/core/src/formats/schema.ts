import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { KneaderError } from "../errors.ts";
import { rotationOrders } from "../maths/rotation.ts";
import type { Action } from "../model/action.ts";
import { markColours, type Shot } from "../model/shot.ts";
import { passKind, computedKind } from "../passes/kinds.ts";
import { checkShot } from "./checkShot.ts";
import { curveSchema, curveToJson } from "./curveJson.ts";
import { sayIssue } from "./sayIssue.ts";

/** The version written today; see `docs/file-format.md`. */
export const SCHEMA_VERSION = 1;

const three = z.tuple([z.number(), z.number(), z.number()]);
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

const rig = z.object({ id: z.string(), name: z.string(), controls, figure: z.string().nullable() });
const rate = z.object({ num: z.number().positive(), den: z.number().positive() });

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
      locked: z.boolean().default(false),
      colour: z.enum(markColours).nullable().default(null),
      weight: curve,
      range: z.object({ start: z.number(), end: z.number(), easeIn: z.number().min(0), easeOut: z.number().min(0) }).nullable(),
      members: z.array(z.string()).nullable().default(null),
      settings: z.record(z.string(), z.unknown()).default({}),
      curves,
    })
    .superRefine((p, ctx) => {
      const read = computedKind(p.kind)?.settings.safeParse(p.settings);
      for (const issue of read?.error?.issues ?? [])
        ctx.addIssue({ code: "custom", path: ["settings", ...issue.path], message: issue.message });
    });
  const follow = z.object({
    id: z.string(),
    control: z.string(),
    target: z.string(),
    position: z.boolean(),
    rotation: z.boolean(),
    strength: curve,
    offset: z.array(z.number()).length(16),
    on: z.boolean(),
  });
  return z.object({
    id: z.string(),
    name: z.string(),
    rig,
    rate,
    range,
    cyclic: z.boolean().default(false),
    unitMetres: z.number().positive().nullable(),
    set: z.string().nullable(),
    base: curves,
    passes: z.array(pass),
    follows: z.array(follow),
    locked: z.array(z.string()).default([]),
    sets: z.array(z.object({ name: z.string().min(1), channels: z.array(z.string()) })).default([]),
    versions: z
      .array(
        z.object({
          id: z.string(),
          name: z.string(),
          passes: z.record(z.string(), z.object({ on: z.boolean(), solo: z.boolean(), weight: curve })),
        }),
      )
      .default([]),
    poseMarks: z.array(z.object({ frame: z.number(), name: z.string(), colour: z.enum(markColours).nullable() })).default([]),
  });
}

const shotSchema = shotWith(curveSchema);
const recordSchema = shotWith(z.custom<Curve>((curve) => isRecord(curve) && curve.times instanceof Float64Array));

const writtenAction = z.object({
  id: z.string(),
  name: z.string(),
  notes: z.string(),
  tags: z.array(z.string()),
  folder: z.string(),
  rate,
  length: z.number().min(0),
  curves: z.record(z.string(), curveSchema),
  controls,
  figure: z.string().nullable(),
  savedAt: z.number(),
});

/** An action as a setting: one already in memory, or its JSON (as in an action file). */
export const actionSchema = z.unknown().transform((given, ctx): Action => {
  if (isAction(given)) return given;
  if (given === undefined || given === null) {
    ctx.addIssue({ code: "custom", message: "none is chosen yet" });
    return z.NEVER;
  }
  const inner = isRecord(given) && given.format === "kneader-action" ? given.action : given;
  const result = writtenAction.safeParse(inner);
  if (result.success) return result.data;
  ctx.addIssue({ code: "custom", message: `not an action: ${sayIssue(result.error)}` });
  return z.NEVER;
});

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

function isAction(value: unknown): value is Action {
  if (!isRecord(value) || !isRecord(value.curves) || !Array.isArray(value.controls)) return false;
  return Object.values(value.curves).every((curve) => isRecord(curve) && curve.times instanceof Float64Array);
}

const curvesToJson = (record: Readonly<Record<string, Curve>>) =>
  Object.fromEntries(Object.entries(record).map(([key, curve]) => [key, curveToJson(curve)]));

export function shotToJson(shot: Shot): unknown {
  return {
    format: "kneader-shot",
    version: SCHEMA_VERSION,
    shot: {
      ...shot,
      base: curvesToJson(shot.base),
      passes: shot.passes.map((p) => ({ ...p, weight: curveToJson(p.weight), curves: curvesToJson(p.curves) })),
      versions: shot.versions.map((version) => ({
        ...version,
        passes: Object.fromEntries(
          Object.entries(version.passes).map(([id, state]) => [id, { ...state, weight: curveToJson(state.weight) }]),
        ),
      })),
      follows: shot.follows.map((f) => ({ ...f, strength: curveToJson(f.strength) })),
    },
  };
}

export function actionToJson(action: Action): unknown {
  return { format: "kneader-action", version: SCHEMA_VERSION, action: { ...action, curves: curvesToJson(action.curves) } };
}

export function shotFromJson(json: unknown): Shot {
  return readFormat(json, "kneader-shot", "shot", shotSchema);
}

/**
 * A shot from a stored record, its curves in place already and kept as they are; what older records do not have is
 * filled in. Errors: `json-syntax`, `shot-data`.
 */
export function shotFromRecord(record: unknown): Shot {
  return checkShot(filled(record, parse(record, recordSchema, "shot")) as Shot);
}

/** What was given, in its own order, with what a reading of it has besides. */
function filled(given: unknown, read: unknown): unknown {
  if (Array.isArray(given) && Array.isArray(read)) return given.map((part, i) => filled(part, read[i]));
  if (!isRecord(given) || !isRecord(read) || given.times instanceof Float64Array) return given === undefined ? read : given;
  const missing = Object.keys(read).filter((name) => given[name] === undefined);
  return Object.fromEntries([
    ...Object.keys(given).map((name) => [name, filled(given[name], read[name])]),
    ...missing.map((name) => [name, read[name]]),
  ]);
}

export function actionFromJson(json: unknown): Action {
  return readFormat(json, "kneader-action", "action", writtenAction);
}

function readFormat<T>(json: unknown, format: string, field: string, schema: z.ZodType<T>): T {
  if (!isRecord(json) || json.format !== format)
    throw new KneaderError(
      "json-syntax",
      `This JSON is not a ${format.replace("-", " ")}: its "format" is ${JSON.stringify(isRecord(json) ? json.format : null)}.`,
    );
  checkVersion(json.version);
  return parse(json[field], schema, field);
}

/** Refuse what a newer Kneader wrote; there is only one version so far, so nothing has to be migrated. */
export function checkVersion(version: unknown): void {
  if (typeof version !== "number" || !Number.isInteger(version) || version < 1)
    throw new KneaderError("json-syntax", `"version" must be a whole number; it is ${JSON.stringify(version)}.`);
  if (version > SCHEMA_VERSION)
    throw new KneaderError(
      "newer-version",
      `This was saved by a newer Kneader (version ${version}; this one reads up to ${SCHEMA_VERSION}).`,
      "Update Kneader, or export the shot again from the newer one as glTF or BVH.",
    );
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
