import { KneaderError } from "../../errors.ts";
import { type Pass, withPass } from "../../model/shot.ts";
import { passKinds } from "../../passes/kinds.ts";
import type { ComputedPassKind } from "../../passes/passKind.ts";
import { freshPass, membersOf } from "./computedPass.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

/**
 * The operation that adds a computed pass for what is in scope; with a pass of its kind chosen it shapes that
 * one anew. Its settings are those of the kind.
 */
function passOperation(kind: ComputedPassKind): Operation<Record<string, unknown>> {
  const { words = "", picked, guide } = kind.offer ?? {};
  return {
    id: kind.madeBy,
    title: kind.madeBy === kind.id ? kind.title : `${kind.title} pass`,
    group: "Passes",
    help: `Adds a pass. ${kind.help} No key is touched.`,
    guide,
    words: `${words} pass computed`,
    leaves: ["layer"],
    settings: kind.settings as Operation<Record<string, unknown>>["settings"],
    ...(picked ? { needs: ["picked controls"] as const } : {}),
    // With a pass of its kind chosen its settings are shown, to be shaped anew.
    situation({ shot, scope }) {
      const chosen = shot.passes.find(({ id, kind: of }) => id === scope.layer && of === kind.id);
      return { ...(chosen?.settings ?? kind.proposes?.(scope.range ?? shot.range, shot, membersOf(shot, scope))) };
    },
    async run(shot, scope, settings) {
      const chosen = shot.passes.find((pass) => pass.id === scope.layer && pass.kind === kind.id);
      if (chosen) {
        const after = withPass(shot, chosen.id, (pass) => ({ ...pass, settings }));
        return outcome(shot, after, `${chosen.name} shaped anew`);
      }
      const members = membersOf(shot, scope);
      if (picked && members === null)
        throw new KneaderError(
          "nothing-in-scope",
          `${kind.title}: pick the controls of a chain, such as a tail, from its first link on.`,
          "Or choose Overlap, which takes a chain from its first link.",
        );
      const pass: Pass = {
        ...freshPass(shot, kind, kind.title),
        members,
        settings,
        range: scope.range && { ...scope.range, easeIn: 0, easeOut: 0 },
      };
      const controls =
        members === null
          ? "the figure"
          : `${countedWord(new Set(members.map((key) => key.slice(0, key.lastIndexOf(".")))).size, "control")}`;
      return outcome(shot, { ...shot, passes: [...shot.passes, pass] }, `${pass.name} on ${controls}`);
    },
  };
}

/** An operation for each kind of pass that needs no other. */
export function passOperations(): Operation<Record<string, unknown>>[] {
  const offered = passKinds.filter((kind): kind is ComputedPassKind => kind.reads !== "keys" && kind.offer !== undefined);
  return offered.map(passOperation);
}
