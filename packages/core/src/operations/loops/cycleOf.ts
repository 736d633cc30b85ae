import type { Curve, RunOn } from "../../curve/curve.ts";
import type { Curves } from "../../model/shot.ts";

/** The cycle most of the moving curves repeat. */
export interface Cycle {
  readonly first: number;
  readonly last: number;
  readonly runIn: RunOn;
  readonly runOut: RunOn;
}

const loops = (run: RunOn) => run.kind !== "hold" && run.kind !== "straight";
const nameOf = (run: RunOn) => `${loops(run) ? (run.kind === "pingpong" ? "pingpong" : "repeat") : "none"} ${run.rounds}`;

/** What at least half of the curves that move repeat in step; null when they do not. Repeating with travel or without is alike. */
export function cycleOf(curves: Curves): Cycle | null {
  const groups = new Map<string, Curve[]>();
  let moving = 0;
  for (const key in curves) {
    const curve = curves[key];
    const { times, runIn, runOut } = curve;
    if (times.length < 2) continue;
    moving++;
    if (!loops(runIn) && !loops(runOut)) continue;
    const name = `${times[0]} ${times[times.length - 1]} ${nameOf(runIn)} ${nameOf(runOut)}`;
    groups.set(name, [...(groups.get(name) ?? []), curve]);
  }
  const [most] = [...groups.values()].sort((a, b) => b.length - a.length);
  if (!most || most.length * 2 < moving) return null;
  const { times, runIn, runOut } = most[0];
  return { first: times[0], last: times[times.length - 1], runIn, runOut };
}
