import { computedKind } from "../passes/kinds.ts";
import { playPass } from "../passes/play.ts";
import { activePasses } from "../passes/active.ts";
import { ledControls } from "../constraints/ledControls.ts";
import { reach } from "../constraints/reach.ts";
import type { Need, Operation, Situation } from "./operation.ts";

const met: Readonly<Record<Need, (at: Situation) => boolean>> = {
  "a pass that is on": ({ shot }) => activePasses(shot).length > 0,
  "a chosen pass": ({ shot, scope }) => shot.passes.some(({ id, kind }) => id === scope.layer && !computedKind(kind)),
  "something that is led": ({ shot, scope }) => ledControls(shot).size > 0 || scope.controls !== null,
  "a limb that reaches": ({ shot }) => shot.constraints.some(({ kind }) => kind === reach.id),
  "a played action": ({ shot, scope }) => shot.passes.some(({ id, kind }) => id === scope.layer && kind === playPass.id),
  "an opened action": ({ shot }) => shot.passes.some(({ settings }) => settings.opens !== undefined),
  "copied keys": ({ copiedKeys }) => copiedKeys !== null,
  "picked controls": ({ scope }) => scope.controls !== null || scope.channels !== null,
};

/** What an operation needs and does not find where the user stands. */
export function missingFor({ needs = [] }: Operation, at: Situation): Need[] {
  return needs.filter((need) => !met[need](at));
}
