import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { freshId } from "../../model/freshId.ts";
import { withPass } from "../../model/shot.ts";
import { playPass } from "../../passes/play.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { playedPass } from "./playedPass.ts";

/** Give a pass a copy of the action it plays, apart from its other uses. */
export const ownAction: Operation<Record<string, never>> = {
  id: "own-action",
  title: "Make action its own",
  group: "Actions",
  help: "The chosen pass plays a copy of its action from now on: what is changed in it changes in no other place.",
  guide: { use: "One of many steps should differ from the others.", watch: "Nothing looks different until it is opened and changed." },
  words: "copy unlink separate unique played band instances",
  needs: ["a played action"],
  leaves: ["controls", "range"],
  stacks: true,
  settings: z.object({}) as z.ZodType<Record<string, never>>,
  async run(shot, scope) {
    const { pass, action } = playedPass(shot, scope.layer, "Make action its own");
    const uses = shot.passes.filter(({ kind, settings }) => kind === playPass.id && settings.action === action.card.id).length;
    if (uses === 1)
      throw new KneaderError(
        "nothing-in-scope",
        `Make action its own: "${action.card.name}" plays nowhere else.`,
        "It is its own already.",
      );
    const id = freshId("action");
    const copy = { card: { ...action.card, id, name: `${action.card.name}, own` }, clip: action.clip };
    const after = withPass({ ...shot, actions: [...shot.actions, copy] }, pass.id, (one) => ({
      ...one,
      settings: { ...one.settings, action: id },
    }));
    return outcome(shot, after, `Gave "${pass.name}" a copy of "${action.card.name}"`);
  },
};
