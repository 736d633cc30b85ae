import type { Curves, Pass, Shot } from "../model/shot.ts";
import { passMembers } from "../passes/members.ts";
import type { Below, MotionPassKind } from "../passes/passKind.ts";
import type { MakePlayer } from "../figure/player.ts";

interface Known {
  /** What the curves were worked out from, compared by identity. */
  readonly from: readonly unknown[];
  readonly curves: Curves;
}

const known = new WeakMap<object, Known[]>();
/** States kept of each pass: enough to go back and forth between versions. */
const KEPT = 4;

/** The curves of a pass that is worked out from the motion below it, once for each state of that. */
export function computedCurves(shot: Shot, pass: Pass, kind: MotionPassKind, below: readonly Pass[], makePlayer: MakePlayer): Curves {
  const from = [
    kind,
    shot.rig,
    shot.base,
    shot.rate.num / shot.rate.den,
    shot.range.start,
    shot.range.end,
    shot.constraints,
    shot.actions,
    pass.members,
    pass.curves,
    ...below,
  ];
  const states = known.get(pass.settings) ?? [];
  const found = states.find((state) => state.from.length === from.length && state.from.every((value, i) => value === from[i]));
  if (found) return found.curves;
  const under: Shot = { ...shot, passes: below };
  const player: Below["player"] = (whole, only) => makePlayer(under, { free: whole === "channels", withoutRides: true, only });
  const curves = kind.compute(pass, { shot: under, player }, passMembers(shot, pass));
  known.set(pass.settings, [{ from, curves }, ...states].slice(0, KEPT));
  return curves;
}
