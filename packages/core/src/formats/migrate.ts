import { constantCurve } from "../curve/make.ts";
import { KneaderError } from "../errors.ts";
import { type ControlRole, makeControl } from "../model/rig.ts";
import { optionalPassFields, optionalShotFields } from "../model/shotFields.ts";

/** The version written today; see `docs/file-format.md`. */
export const SCHEMA_VERSION = 5;

export type Json = Record<string, unknown>;

export function isRecord(value: unknown): value is Json {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

/** What is written and read. */
type Kind = "shot" | "action" | "clip";

/** What each version changed, by the version it came from. What is not as it should be is left for the reader to name. */
const steps: Readonly<Record<number, Readonly<Record<Kind, (json: Json) => Json>>>> = {
  1: { shot: shotFrom1, action: actionFrom1, clip: clipFrom1 },
  // Version 3 has more kinds of constraints, and says more of a follow; what version 2 said it says alike.
  2: { shot: (json) => json, action: (json) => json, clip: (json) => json },
  // Version 4 has passes that play actions, and the actions they play.
  3: { shot: (json) => json, action: (json) => json, clip: (json) => json },
  // Version 5 calls riding along by that name everywhere, and a stepping pass may follow a control's keys.
  4: { shot: shotFrom4, action: (json) => json, clip: (json) => json },
};

/**
 * What a file or a stored record of any version says, as today's version says it; curves in it may be anything, as they
 * are only put elsewhere. Errors: `json-syntax`, `newer-version`.
 */
export function migrate(what: Kind, version: unknown, json: unknown): unknown {
  checkVersion(version);
  if (!isRecord(json)) return json;
  let migrated: Json = json;
  for (let from = version as number; from < SCHEMA_VERSION; from++) migrated = steps[from][what](migrated);
  return what === "shot" ? withDefaults(migrated) : migrated;
}

/** Refuse what a newer Kneader wrote. */
export function checkVersion(version: unknown): void {
  if (typeof version !== "number" || !Number.isInteger(version) || version < 1)
    throw new KneaderError(
      "json-syntax",
      `"version" must be a whole number; it is ${version === undefined ? "not there" : (JSON.stringify(version) ?? "none").slice(0, 40)}.`,
    );
  if (version > SCHEMA_VERSION)
    throw new KneaderError(
      "newer-version",
      `This was saved by a newer Kneader (version ${version}; this one reads up to ${SCHEMA_VERSION}).`,
      "Update Kneader, or export the shot again from the newer one as glTF or BVH.",
    );
}

/** Fields that may be left out, put in where they are missing; the order of those that are there stays. */
function withDefaults(shot: Json): Json {
  const fill = (given: Json, otherwise: Json): Json => {
    const missing = Object.keys(otherwise).filter((name) => given[name] === undefined && otherwise[name] !== undefined);
    return missing.length === 0 ? given : { ...given, ...Object.fromEntries(missing.map((name) => [name, otherwise[name]])) };
  };
  const filled = fill(shot, optionalShotFields);
  if (!Array.isArray(filled.passes)) return filled;
  return { ...filled, passes: filled.passes.map((pass) => (isRecord(pass) ? fill(pass, optionalPassFields) : pass)) };
}

/** Version 1 had follows, each with its strength, and told the place around a figure by a body part called "set". */
function shotFrom1({ follows, ...shot }: Json): Json {
  const list = Array.isArray(follows) ? follows : [];
  const led = new Set(list.flatMap((given) => (isRecord(given) ? [given.control] : [])));
  const rig = isRecord(shot.rig) ? { ...shot.rig, controls: controlsFrom1(shot.rig.controls, led) } : shot.rig;
  const names = new Map(asControls(isRecord(rig) ? rig.controls : []).map(({ id, name }) => [id, name]));
  return {
    ...shot,
    rig,
    constraints: follows === undefined || Array.isArray(follows) ? list.map((f) => constraintFrom1(f, names)) : follows,
  };
}

function constraintFrom1(given: unknown, names: ReadonlyMap<unknown, unknown>): unknown {
  if (!isRecord(given)) return given;
  const { id, on, strength, ...settings } = given;
  const nameOf = (control: unknown) => String(names.get(control) ?? control);
  const name = `${nameOf(settings.control)} follows ${nameOf(settings.target)}`;
  return { id, name, kind: "follow", on, settings, curves: { [`${id}.strength`]: strength ?? constantCurve(1) } };
}

const asControls = (controls: unknown): Json[] => (Array.isArray(controls) ? controls.filter(isRecord) : []);

/** Scenery was told by its part, cameras by their names. */
export function roleFrom1<Part>(name: string, part: Part): { role: ControlRole; part: Part | "" } {
  if (part !== "set") return { role: "figure", part };
  return { role: /camera/i.test(name) ? "camera" : "set", part: "" };
}

/** What follows something and is no scenery is a prop. */
function controlsFrom1(controls: unknown, led: ReadonlySet<unknown>): unknown {
  if (!Array.isArray(controls)) return controls;
  const roles = new Map<unknown, string>();
  return controls.map((control) => {
    if (!isRecord(control)) return control;
    const { id, name, part, parent } = control;
    const isProp = (parent === null && led.has(id)) || roles.get(parent) === "prop";
    const told = roleFrom1(`${id} ${name}`, part);
    const role = told.role === "figure" && isProp ? "prop" : told.role;
    roles.set(id, role);
    return { ...control, ...told, role };
  });
}

/** What rides along with a camera while a frame is held was told under other names. */
function shotFrom4(shot: Json): Json {
  if (!Array.isArray(shot.passes)) return shot;
  return { ...shot, passes: shot.passes.map((pass) => (isRecord(pass) && pass.kind === "stepping" ? steppingFrom4(pass) : pass)) };
}

function steppingFrom4(pass: Json): Json {
  const named = (given: unknown, from: string, to: string): unknown => {
    if (!isRecord(given) || !(from in given)) return given;
    const { [from]: value, ...others } = given;
    return { ...others, [to]: value };
  };
  const told = {
    settings: named(pass.settings, "attach", "rides"),
    curves: named(pass.curves, "Stepping.attached", "Stepping.rides"),
  };
  return { ...pass, ...Object.fromEntries(Object.entries(told).filter(([, value]) => value !== undefined)) };
}

/** Version 1 had no cards and clips. */
function actionFrom1({ id, name, notes, tags, folder, savedAt, ...motion }: Json): Json {
  const controls = controlsFrom1(motion.controls, new Set());
  return { card: { id, name, notes, tags, folder, savedAt }, clip: { from: 0, whole: false, ...motion, controls } };
}

/** Of the controls of copied keys it had ids and names only. */
function clipFrom1(clip: Json): Json {
  const { controls } = clip;
  const list = Array.isArray(controls)
    ? controls.map((given) => (isRecord(given) ? { ...makeControl(""), channels: [], ...given } : given))
    : controls;
  return { ...clip, controls: list, figure: null };
}
