import { repeats } from "../curve/runOn.ts";
import { Tangent } from "../curve/curve.ts";
import { layerCurves } from "../model/shot.ts";
import { missingFor } from "./needs.ts";
import type { Operation, Situation, Suit } from "./operation.ts";
import { curvesInScope } from "./shared/scope.ts";

/** Enough of the curves to tell what kind of motion they hold. */
const SOME = 24;

function someCurves({ shot, scope }: Situation) {
  const curves = layerCurves(shot, scope.layer);
  const moving = curvesInScope(shot, scope).filter((key) => curves[key].times.length > 2);
  const every = Math.max(1, Math.floor(moving.length / SOME));
  return moving.filter((_, i) => i % every === 0).map((key) => curves[key]);
}

const mostOf = <Value>(list: readonly Value[], is: (value: Value) => boolean) => list.filter(is).length * 2 > list.length;

const met: Readonly<Record<Suit, (at: Situation) => boolean>> = {
  "picked keys": ({ scope }) => scope.keys !== null,
  "picked controls": ({ scope }) => scope.keys === null && scope.controls !== null,
  "picked poses": ({ pickedPoses = [] }) => pickedPoses.length > 0,
  "a marked range": ({ scope }) => scope.range !== null,
  "a chosen pass": ({ shot, scope }) => shot.passes.some(({ id }) => id === scope.layer),
  "copied keys": ({ copiedKeys }) => copiedKeys !== null,
  "stepped poses": (at) => mostOf(someCurves(at), ({ kindOut }) => kindOut[0] === Tangent.stepped),
  "a key on every frame": (at) =>
    mostOf(someCurves(at), ({ times }) => times.length > 8 && times.length > 0.8 * (times[times.length - 1] - times[0])),
  "a loop": (at) => mostOf(someCurves(at), ({ runOut }) => repeats(runOut)),
};

/** The operations that suit where the user stands and lack nothing there, those that suit best first. */
export function suiting(operations: readonly Operation[], at: Situation): Operation[] {
  const now = new Set((Object.keys(met) as Suit[]).filter((suit) => met[suit](at)));
  const count = ({ suits = [] }: Operation) => suits.filter((suit) => now.has(suit)).length;
  return operations
    .filter((operation) => count(operation) > 0 && missingFor(operation, at).length === 0)
    .sort((a, b) => count(b) - count(a));
}
