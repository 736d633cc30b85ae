import {
  currentShot,
  freshId,
  madeBy,
  operations,
  type Outcome,
  type Recipe,
  type RecipeRun,
  type Report,
  type Shot,
  type Step,
  WHOLE_FIGURE,
} from "@kneader/core";
import { useDocuments } from "../bench/documents.ts";
import { sayAngle, sayLength } from "../bench/units.ts";
import { openShot, withShot } from "../bench/withShot.ts";
import { makeDemoShot } from "../shots/demo.ts";
import { keepShot } from "../shots/takeFiles.ts";
import { howSaved, saveNow, useSaveState } from "../storage/autosave.ts";
import { shotDoor, shotRecords } from "../storage/kept.ts";
import { saySaveError } from "../storage/shotRecords.ts";

/** A recipe as it is run on many shots. */
export interface Order {
  readonly recipe: Recipe;
  readonly answers: RecipeRun["answers"];
  /** Are results new shots, or do they take the place of what was? */
  readonly where: "new" | "in place";
}

/** What came of a shot. */
export interface Result {
  /** The shot that holds it. */
  readonly id: string;
  readonly name: string;
  readonly report: Report;
  /** How far it is from what it was, in words; null where both cannot be compared. */
  readonly drift: string | null;
  /** That it is kept, but not quite as it should be. */
  readonly caution: string | null;
  /** Makes it as it was before. Errors: why that cannot be. Null where a copy is the way back. */
  readonly putBack: (() => Promise<void>) | null;
}

/** Works on one shot and answers what it makes of it. */
export type Work = (operation: string, shot: Shot, settings: unknown) => Promise<Outcome>;

/**
 * Run a recipe on a kept or a demo shot and keep the result. Errors: why it was not done; nothing is changed then.
 */
export function runOnShot(id: string, order: Order, work: Work): Promise<Result> {
  return order.where === "new" ? asNewShot(id, order, work) : inPlace(id, order, work);
}

const sayDrift = ({ drift }: Report, shot: Shot) => drift && `${sayAngle(drift.turn.amount)} · ${sayLength(drift.place.amount, shot)}`;

const settingsOf = ({ recipe, answers }: Order) => ({ recipe, answers });

async function asNewShot(id: string, order: Order, work: Work): Promise<Result> {
  const entry = useDocuments.getState().open[id];
  const shot = entry ? currentShot(entry.history) : ((await shotRecords.load(id))?.shot ?? (await makeDemoShot(id)));
  if (!shot) throw new Error("It is no longer there.");
  const { shot: after, report } = await work(operations.runRecipe.id, shot, settingsOf(order));
  const made = { ...after, id: freshId("shot"), name: `${shot.name}, ${order.recipe.name}` };
  await keepShot(made);
  const putBack = () => shotDoor.alone(made.id, made.name, () => shotRecords.markDeleted(made.id, true));
  return { id: made.id, name: made.name, report, drift: sayDrift(report, shot), caution: null, putBack };
}

function inPlace(id: string, order: Order, work: Work): Promise<Result> {
  return withShot(id, async (wasOpen) => {
    const before = openShot(id);
    const { shot: after, report } = await work(operations.runRecipe.id, before, settingsOf(order));
    if (openShot(id) !== before) throw new Error("It was changed meanwhile, and is left as it is. Run the recipe on it again.");
    const made = madeBy(operations.runRecipe, WHOLE_FIGURE, settingsOf(order));
    const answer = useDocuments.getState().change(report.summary, after, made, id);
    if (!answer.done) throw new Error(answer.reason);
    const step = presentStep(id);
    await saveNow();
    const { saved, back } = howSaved(openShot(id));
    const { problem } = useSaveState.getState();
    if (!saved && !wasOpen) throw new Error(problem);
    const result = { id, name: after.name, report, drift: sayDrift(report, before) };
    if (!saved) return { ...result, caution: `Not saved yet: ${problem}`, putBack: () => stepBack(id, step) };
    if (back) return { ...result, caution: null, putBack: () => stepBack(id, step) };
    return { ...result, caution: await keepBefore(id, before), putBack: null };
  });
}

/** Where steps are too large to be kept a copy is the way back; where there is no room for it nothing is changed. */
async function keepBefore(id: string, before: Shot): Promise<string> {
  const copy = { ...before, id: freshId("shot"), name: `${before.name}, as it was` };
  try {
    await keepShot(copy);
  } catch (error) {
    useDocuments.getState().goTo(presentOf(id) - 1, id);
    await saveNow();
    throw new Error(`There is no room to keep it as it was: ${saySaveError(error)}`);
  }
  return `Its steps are too large to be kept: "${copy.name}" was put on the shelf as the way back.`;
}

const presentOf = (id: string): number => useDocuments.getState().open[id]?.history.present ?? 0;
const presentStep = (id: string): Step | undefined => useDocuments.getState().open[id]?.history.steps[presentOf(id)];

/** Undo a step that is still the last one that was done. */
function stepBack(id: string, step: Step | undefined): Promise<void> {
  return withShot(id, async () => {
    const before = openShot(id);
    const present = presentStep(id);
    if (!step || present?.at !== step.at || present.name !== step.name)
      throw new Error(`"${before.name}" was changed since: go back in its history on the bench.`);
    useDocuments.getState().goTo(presentOf(id) - 1, id);
    await saveNow();
    if (!howSaved(openShot(id)).saved) throw new Error(useSaveState.getState().problem);
  });
}
