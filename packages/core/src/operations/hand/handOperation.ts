import type { z } from "zod";
import type { Shot } from "../../model/shot.ts";
import type { Operation, Outcome, Scope } from "../operation.ts";
import { sayOpened } from "../shared/sayRounds.ts";
import { outcome } from "../shared/scope.ts";

/** A change made by a gesture or a menu: an operation like any other, but done at once and not offered in the list. */
export interface HandOperation<Settings> extends Omit<Operation<Settings>, "run"> {
  readonly group: "By hand";
  run(shot: Shot, scope: Scope, settings: Settings): Outcome;
}

interface Given<Settings> {
  readonly id: string;
  readonly title: string;
  readonly help: string;
  readonly settings: z.ZodType<Settings>;
  readonly named?: true;
  readonly stacks?: true;
  /** The shot changed, what the step of the history is called, and what the user should be told besides. */
  edit(shot: Shot, scope: Scope, settings: Settings): { readonly shot: Shot; readonly summary: string; readonly notes?: readonly string[] };
}

export function byHand<Settings>({ edit, ...given }: Given<Settings>): HandOperation<Settings> {
  return {
    ...given,
    group: "By hand",
    words: "",
    saysRounds: true,
    run(shot, scope, settings) {
      const { shot: after, summary, notes = [] } = edit(shot, scope, settings);
      return outcome(shot, after, summary, { notes: [...notes, ...sayOpened(shot, after)] });
    },
  };
}

/** "1 key", "12 keys". */
export const keysWord = (count: number) => `${count} ${count === 1 ? "key" : "keys"}`;
