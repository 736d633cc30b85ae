import { type Curve, Tangent, THIRD } from "../curve/curve.ts";
import type { CurveSlope } from "../curve/curveSlope.ts";
import { repeats } from "../curve/runOn.ts";
import { settle } from "../curve/tangents.ts";
import type { ChannelKey } from "../model/rig.ts";

/** A curve whose keys may be moved, and which of them. */
export interface Movable {
  readonly key: ChannelKey;
  readonly curve: Curve;
  /** Indices of the keys. */
  readonly keys: readonly number[];
  /** What of its unit does as much as a degree. */
  readonly degree: number;
}

export interface KeyParts {
  /** Free tangents' slopes, and the lengths of weighted handles. */
  readonly slopes: boolean;
  /** Key times, within half a gap. */
  readonly times: boolean;
  /** The shot's last frame is its first one again: curves whose ends meet go on meeting. */
  readonly cyclic?: boolean;
}

type Column = "values" | "slopeIn" | "slopeOut" | "weightIn" | "weightOut" | "times";

/** One number of a search: what it is added to, times its scale, wherever it stands. */
export interface Variable {
  /** Number of the curve. */
  readonly curve: number;
  /** The key it belongs to; of several that go together the first. */
  readonly key: number;
  readonly at: readonly { readonly column: Column; readonly key: number }[];
  /** What one of it adds there. One of any variable moves the curve by about as much as a degree does. */
  readonly scale: number;
  /** How far it may go by itself, whatever the leash. */
  readonly least: number;
  readonly most: number;
}

/** Handles of auto tangents and such of a third are plain and stay so. */
const SHORTEST = 0.05;

/**
 * The numbers of some keys that may be moved: values; slopes of free tangents, both sides as one where they are one, and
 * lengths of weighted handles; times. Where a curve plays round after round and its ends meet, they go on meeting.
 * No key and no kind of tangent comes or goes.
 */
export function variablesOf(movables: readonly Movable[], parts: KeyParts): Variable[] {
  return movables.flatMap((movable, c) => {
    const { curve } = movable;
    const last = curve.times.length - 1;
    const wanted = new Set(movable.keys);
    const meets = last > 0 && (parts.cyclic || repeats(curve.runIn) || repeats(curve.runOut)) && wanted.has(0) && wanted.has(last);
    return movable.keys.flatMap((key) => ofKey(movable, c, key, parts, meets));
  });
}

function ofKey({ curve, degree }: Movable, c: number, key: number, parts: KeyParts, meets: boolean): Variable[] {
  const { times, values, slopeIn, slopeOut, kindIn, kindOut, weightIn, weightOut } = curve;
  const last = times.length - 1;
  const found: Variable[] = [];
  const isEnd = meets && key === last;
  const add = (at: Variable["at"], scale: number, least = Number.NEGATIVE_INFINITY, most = Number.POSITIVE_INFINITY) =>
    found.push({ curve: c, key, at, scale, least, most });
  const closed = meets && isSame(values[0], values[last]);
  const also = (column: Column) => (key === 0 && closed ? [{ column, key: last }] : []);
  if (!(isEnd && closed)) add([{ column: "values", key }, ...also("values")], degree);
  if (parts.slopes) {
    const before = key > 0 ? times[key] - times[key - 1] : times[Math.min(last, 1)] - times[0];
    const after = key < last ? times[key + 1] - times[key] : times[last] - times[Math.max(0, last - 1)];
    const hasIn =
      kindIn[key] === Tangent.free && (key > 0 || curve.runIn.kind === "straight") && kindOut[Math.max(0, key - 1)] !== Tangent.stepped;
    const hasOut = kindOut[key] === Tangent.free && (key < last || curve.runOut.kind === "straight");
    const joined = kindIn[key] === Tangent.free && kindOut[key] === Tangent.free && slopeIn[key] === slopeOut[key];
    // A handle's tip goes as far as a value does.
    const tip = (gap: number) => (3 * degree) / Math.max(1e-6, gap);
    const meetsSlopes = closed && isSame(slopeOut[0], slopeIn[last]) && kindOut[0] === Tangent.free && kindIn[last] === Tangent.free;
    if (joined && (hasIn || hasOut)) {
      const gap = Math.max(key > 0 ? before : 0, key < last ? after : 0);
      if (!(isEnd && meetsSlopes))
        add(
          [
            { column: "slopeIn", key },
            { column: "slopeOut", key },
            ...(key === 0 && meetsSlopes
              ? ([
                  { column: "slopeIn", key: last },
                  { column: "slopeOut", key: last },
                ] as const)
              : []),
          ],
          tip(gap),
        );
    } else {
      if (hasIn) add([{ column: "slopeIn", key }], tip(before));
      if (hasOut) add([{ column: "slopeOut", key }], tip(after));
    }
    // A length of its own is a degree's worth at a twentieth of the gap.
    const handle = (column: "weightIn" | "weightOut") => {
      const length = curve[column][key];
      add([{ column, key }], 0.05, (Math.min(SHORTEST, length) - length) / 0.05, (1 - length) / 0.05);
    };
    if (kindIn[key] === Tangent.free && key > 0 && weightIn[key] !== THIRD) handle("weightIn");
    if (kindOut[key] === Tangent.free && key < last && weightOut[key] !== THIRD) handle("weightOut");
  }
  if (parts.times && key > 0 && key < last) {
    const room = (Math.min(times[key] - times[key - 1], times[key + 1] - times[key]) / 2) * 0.98;
    add([{ column: "times", key }], 0.25, -room / 0.25, room / 0.25);
  }
  return found;
}

const isSame = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(a));

/** The curves with their keys moved; those without a change are the very same. */
export function movedCurves(movables: readonly Movable[], variables: readonly Variable[], x: Float64Array): Curve[] {
  const changed = new Map<number, Record<Column, Float64Array>>();
  variables.forEach(({ curve: c, at, scale }, v) => {
    if (x[v] === 0) return;
    const { curve } = movables[c];
    let columns = changed.get(c);
    if (!columns) {
      const { values, slopeIn, slopeOut, weightIn, weightOut, times } = curve;
      columns = {
        values: values.slice(),
        slopeIn: slopeIn.slice(),
        slopeOut: slopeOut.slice(),
        weightIn: weightIn.slice(),
        weightOut: weightOut.slice(),
        times: times.slice(),
      };
      changed.set(c, columns);
    }
    for (const { column, key } of at) columns[column][key] += x[v] * scale;
  });
  return movables.map(({ curve }, c) => {
    const columns = changed.get(c);
    return columns ? settle({ ...curve, ...columns }) : curve;
  });
}

/** How something changes with each variable, from how it changes with the columns of the curves. */
export function gatherSlopes(variables: readonly Variable[], slopes: readonly CurveSlope[], out: Float64Array): void {
  variables.forEach(({ curve, at, scale }, v) => {
    let sum = 0;
    for (const { column, key } of at) sum += slopes[curve][column][key];
    out[v] = sum * scale;
  });
}
