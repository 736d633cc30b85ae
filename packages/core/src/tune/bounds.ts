import type { Box } from "../maths/quasiNewton.ts";
import type { Rig } from "../model/rig.ts";
import { type Closeness, closerBy, leashAt } from "./closeness.ts";
import type { Movable } from "./keyVariables.ts";
import { columnOf, type Variables } from "./variables.ts";

/** A value and a handle's tip together stay on the leash: a share for each. */
const SHARES: Readonly<Record<string, number>> = { values: 0.6, slopeIn: 0.4, slopeOut: 0.4 };

/**
 * How far each variable may go. A curve lies within the span of its keys' values and handles' tips (the hull of a Bezier),
 * so it stays on the leash between keys when those do: on the shortest there is at any frame the key has a say in.
 * A pinned pose leaves keys at its frame where they are; where there is none, those on both sides hold still.
 */
export function boundsOf(movables: readonly Movable[], variables: Variables, closeness: Closeness, rig: Rig): Box {
  const low = new Float64Array(variables.length);
  const high = new Float64Array(variables.length);
  const closer = movables.map(({ key }) => closerBy(closeness, rig, key));
  for (let v = 0; v < variables.length; v++) {
    const c = variables.curve[v];
    const column = columnOf(variables, v);
    const leash = leashOf(movables[c], variables.key[v], column, closeness) / closer[c];
    const own = Number.isNaN(leash) ? Number.POSITIVE_INFINITY : leash * (SHARES[column] ?? 1);
    low[v] = Math.max(variables.least[v], -own);
    high[v] = Math.min(variables.most[v], own);
    // Times and handles' lengths have a reach of their own, but nothing moves where nothing may.
    if (leash === 0) low[v] = high[v] = 0;
  }
  return { low, high };
}

function leashOf({ curve }: Movable, key: number, column: string, closeness: Closeness): number {
  const { times } = curve;
  const [from, to] = [times[Math.max(0, key - 1)], times[Math.min(times.length - 1, key + 1)]];
  for (const frame of closeness.pinned) {
    const onKey = Math.abs(frame - times[key]) < 1e-6;
    if (onKey && (column === "values" || column === "times")) return 0;
    const keyed = times.some((time) => Math.abs(time - frame) < 1e-6);
    if (!keyed && frame > from - 1e-6 && frame < to + 1e-6) return 0;
  }
  if (closeness.painted.length === 0) return leashAt(closeness, from);
  let leash = Number.POSITIVE_INFINITY;
  for (let frame = Math.ceil(from); frame <= to; frame++) leash = Math.min(leash, leashAt(closeness, frame));
  return Math.min(leash, leashAt(closeness, times[key]));
}
