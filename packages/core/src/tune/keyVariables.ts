import { type Curve, Tangent, THIRD } from "../curve/curve.ts";
import type { CurveSlope } from "../curve/curveSlope.ts";
import { repeats } from "../curve/runOn.ts";
import { settle } from "../curve/tangents.ts";
import type { ChannelKey } from "../model/rig.ts";
import { type MovedColumn, movedColumns, VariableList, type Variables } from "./variables.ts";

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

/** Handles of auto tangents and such of a third are plain and stay so. */
const SHORTEST = 0.05;

/**
 * The numbers of some keys that may be moved: values; slopes of free tangents, both sides as one where they are one, and
 * lengths of weighted handles; times. Where a curve plays round after round and its ends meet, they go on meeting.
 * No key and no kind of tangent comes or goes.
 */
export function variablesOf(movables: readonly Movable[], parts: KeyParts): Variables {
  const found = new VariableList();
  for (const [c, movable] of movables.entries()) {
    const { curve, keys } = movable;
    const last = curve.times.length - 1;
    const meets = last > 0 && (parts.cyclic || repeats(curve.runIn) || repeats(curve.runOut)) && keys.includes(0) && keys.includes(last);
    for (const key of keys) addKey(found, movable, c, key, parts, meets);
  }
  return found.inColumns();
}

function addKey(found: VariableList, { curve, degree }: Movable, c: number, key: number, parts: KeyParts, meets: boolean): void {
  const { times, values, slopeIn, slopeOut, kindIn, kindOut, weightIn, weightOut } = curve;
  const last = times.length - 1;
  const isEnd = meets && key === last;
  const closed = meets && isSame(values[0], values[last]);
  if (!(isEnd && closed)) {
    found.add(c, key, "values", degree);
    if (key === 0 && closed) found.also("values", last);
  }
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
      if (!(isEnd && meetsSlopes)) {
        found.add(c, key, "slopeIn", tip(gap));
        found.also("slopeOut", key);
        if (key === 0 && meetsSlopes) {
          found.also("slopeIn", last);
          found.also("slopeOut", last);
        }
      }
    } else {
      if (hasIn) found.add(c, key, "slopeIn", tip(before));
      if (hasOut) found.add(c, key, "slopeOut", tip(after));
    }
    // A length of its own is a degree's worth at a twentieth of the gap.
    const handle = (column: "weightIn" | "weightOut") => {
      const length = curve[column][key];
      found.add(c, key, column, 0.05, (Math.min(SHORTEST, length) - length) / 0.05, (1 - length) / 0.05);
    };
    if (kindIn[key] === Tangent.free && key > 0 && weightIn[key] !== THIRD) handle("weightIn");
    if (kindOut[key] === Tangent.free && key < last && weightOut[key] !== THIRD) handle("weightOut");
  }
  if (parts.times && key > 0 && key < last) {
    const room = (Math.min(times[key] - times[key - 1], times[key + 1] - times[key]) / 2) * 0.98;
    found.add(c, key, "times", 0.25, -room / 0.25, room / 0.25);
  }
}

const isSame = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(a));

/** The curves with their keys moved; those without a change are the very same. */
export function movedCurves(movables: readonly Movable[], variables: Variables, x: Float64Array): Curve[] {
  const { curve: curveOf, from, placeColumn, placeKey, scale } = variables;
  const changed: (Partial<Record<MovedColumn, Float64Array>> | undefined)[] = new Array(movables.length);
  for (let v = 0; v < variables.length; v++) {
    if (x[v] === 0) continue;
    const c = curveOf[v];
    changed[c] ??= {};
    const columns = changed[c];
    for (let place = from[v]; place < from[v + 1]; place++) {
      const name = movedColumns[placeColumn[place]];
      // Only what moves is copied.
      columns[name] ??= movables[c].curve[name].slice();
      columns[name][placeKey[place]] += x[v] * scale[v];
    }
  }
  return movables.map(({ curve }, c) => {
    const columns = changed[c];
    return columns ? settle({ ...curve, ...columns }) : curve;
  });
}

/** How something changes with each variable, from how it changes with the columns of the curves. */
export function gatherSlopes(variables: Variables, slopes: readonly CurveSlope[], out: Float64Array): void {
  const { curve, from, placeColumn, placeKey, scale } = variables;
  for (let v = 0; v < variables.length; v++) {
    let sum = 0;
    for (let place = from[v]; place < from[v + 1]; place++) sum += slopes[curve[v]][movedColumns[placeColumn[place]]][placeKey[place]];
    out[v] = sum * scale[v];
  }
}
