import type { Curve } from "../curve/curve.ts";
import { constantCurve } from "../curve/make.ts";
import type { Action } from "./action.ts";
import type { Constraint, Curves, Pass, Shot } from "./shot.ts";

/*
 * What a shot is made of, said once: which of its fields a file may leave out and what they then are, and where in them
 * curves stand. Walking and copying curves, new shots and the reading of files all follow from here.
 */

/** What a shot has where nobody says otherwise. */
const shotDefaults = {
  rate: { num: 24, den: 1 },
  range: { start: 1, end: 24 },
  cyclic: false,
  unitMetres: null,
  set: null,
  base: {},
  passes: [],
  constraints: [],
  actions: [],
  locked: [],
  sets: [],
  poseMarks: [],
  versions: [],
  asset: null,
} as const satisfies Omit<Shot, "id" | "name" | "rig">;

const passDefaults = {
  compose: "channel",
  on: true,
  solo: false,
  locked: false,
  colour: null,
  range: null,
  members: null,
  settings: {},
  curves: {},
} as const satisfies Omit<Pass, "id" | "name" | "kind" | "weight">;

/** Fields that the files and records of any version may leave out. */
export const optionalShotFields = { ...shotDefaults, rate: undefined, range: undefined };
export const optionalPassFields = passDefaults;

/** A shot of a rig, without motion. */
export function emptyShot(given: Pick<Shot, "id" | "name" | "rig"> & Partial<Shot>): Shot {
  return { ...shotDefaults, ...given };
}

export function makePass(id: string, name: string, kind: string, curves: Curves = {}): Pass {
  return { id, name, kind, ...passDefaults, weight: constantCurve(1), curves };
}

type Change = (curve: Curve, where: string) => Curve;
/** Answers a part of a shot with its curves changed. */
type Part<Value> = (value: Value, where: string, change: Change) => Value;

const oneCurve: Part<Curve> = (curve, where, change) => change(curve, where);

function byName<Value>(part: Part<Value>): Part<Readonly<Record<string, Value>>> {
  return (record, where, change) =>
    Object.fromEntries(Object.entries(record).map(([name, value]) => [name, part(value, `${where}/${name}`, change)]));
}

function each<Value extends { readonly id: string }>(part: Part<Value>): Part<readonly Value[]> {
  return (list, where, change) => list.map((value) => part(value, `${where}/${value.id}`, change));
}

const curvesOfPass: Part<Pass> = (pass, where, change) => ({
  ...pass,
  weight: change(pass.weight, `${where}/weight`),
  curves: byName(oneCurve)(pass.curves, where, change),
});

const curvesOfConstraint: Part<Constraint> = (constraint, where, change) => ({
  ...constraint,
  curves: byName(oneCurve)(constraint.curves, where, change),
});

const curvesOfVersion: Part<Shot["versions"][number]> = (version, where, change) => ({
  ...version,
  passes: byName((state: (typeof version.passes)[string], at: string, put: Change) => ({ ...state, weight: put(state.weight, at) }))(
    version.passes,
    where,
    change,
  ),
});

const curvesOfAction: Part<Action> = ({ card, clip }, where, change) => ({
  card,
  clip: { ...clip, curves: byName(oneCurve)(clip.curves, where, change) },
});

/** The same for what is known by its card. */
const eachAction: Part<readonly Action[]> = (list, where, change) =>
  list.map((action) => curvesOfAction(action, `${where}/${action.card.id}`, change));

/** The fields in which curves stand, with the word each begins with in the name of a place. */
const curveFields: { readonly [Field in keyof Shot]?: readonly [word: string, part: Part<Shot[Field]>] } = {
  base: ["base", byName(oneCurve)],
  passes: ["pass", each(curvesOfPass)],
  versions: ["version", each(curvesOfVersion)],
  constraints: ["constraint", each(curvesOfConstraint)],
  actions: ["action", eachAction],
};

/** The same shot with every curve replaced by `change(curve, where)`; unchanged ones keep identity. */
export function mapCurves(shot: Shot, change: Change): Shot {
  const mapped: Record<string, unknown> = {};
  for (const [field, [word, part]] of Object.entries(curveFields) as [keyof Shot, readonly [string, Part<unknown>]][])
    mapped[field] = part(shot[field], word, change);
  return { ...shot, ...mapped };
}

/** Every curve of a shot, with a name that says where it stands. */
export function allCurves(shot: Shot): [where: string, curve: Curve][] {
  const found: [string, Curve][] = [];
  mapCurves(shot, (curve, where) => {
    found.push([where, curve]);
    return curve;
  });
  return found;
}
