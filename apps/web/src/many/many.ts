import { type Recipe, sayError, WHOLE_FIGURE } from "@kneader/core";
import { create } from "zustand";
import { queryClient } from "../app/queryClient.ts";
import { operationsLink } from "../workers/operations.ts";
import { Cancelled, type Job, type OperationsLink } from "../workers/operationsLink.ts";
import { saySaveError } from "../storage/shotRecords.ts";
import { type Order, type Result, runOnShot } from "./runOnShot.ts";

/** Where a recipe is run on many shots. */
export const FOR_MANY = "/recipes";

/** How it stands with a shot that was chosen. */
export type Standing =
  | { readonly kind: "waits" }
  | { readonly kind: "works"; readonly share: number }
  | { readonly kind: "done"; readonly result: Result }
  | { readonly kind: "failed"; readonly why: string }
  | { readonly kind: "stopped" }
  | { readonly kind: "put back" };

interface Many {
  readonly recipe: Recipe | null;
  readonly answers: Order["answers"];
  readonly where: Order["where"];
  /** Ids of the shots it is to be run on. */
  readonly chosen: readonly string[];
  readonly standings: Readonly<Record<string, Standing>>;
  readonly going: boolean;
}

/** A recipe and the shots it is run on. It goes on whichever page is looked at. */
export const useMany = create<Many>(() => ({ recipe: null, answers: {}, where: "new", chosen: [], standings: {}, going: false }));

const stand = (id: string, standing: Standing) => useMany.setState(({ standings }) => ({ standings: { ...standings, [id]: standing } }));
const refresh = () => queryClient.invalidateQueries({ queryKey: ["shelf"] });

/** Workers of our own, so that the bench's answers meanwhile; one processor is left to the page. */
const AT_ONCE = Math.min(4, Math.max(1, (navigator.hardwareConcurrency || 2) - 1));
const jobs = new Set<Job>();
let isStopped = false;

/** Run the recipe on all shots that are chosen; what fails stops nothing. */
export async function runOnAll(): Promise<void> {
  const { recipe, answers, where, chosen, going } = useMany.getState();
  if (!recipe || chosen.length === 0 || going) return;
  isStopped = false;
  useMany.setState({ going: true, standings: Object.fromEntries(chosen.map((id) => [id, { kind: "waits" }])) });
  const left = [...chosen];
  const order: Order = { recipe, answers, where };
  const worker = async () => {
    const link = operationsLink();
    for (let id = left.shift(); id !== undefined; id = left.shift()) await runOn(id, order, link);
    link.dismiss();
  };
  await Promise.all(Array.from({ length: Math.min(AT_ONCE, chosen.length) }, worker));
  useMany.setState({ going: false });
  await refresh();
}

async function runOn(id: string, order: Order, link: OperationsLink): Promise<void> {
  if (isStopped) return stand(id, { kind: "stopped" });
  stand(id, { kind: "works", share: 0 });
  try {
    const result = await runOnShot(id, order, async (operation, shot, settings) => {
      const job = link.run(operation, shot, WHOLE_FIGURE, settings, {
        // A word of progress may come after the answer itself.
        progress: (share) => jobs.has(job) && stand(id, { kind: "works", share }),
      });
      jobs.add(job);
      try {
        return await job.done;
      } finally {
        jobs.delete(job);
      }
    });
    stand(id, { kind: "done", result });
  } catch (error) {
    stand(id, error instanceof Cancelled ? { kind: "stopped" } : { kind: "failed", why: sayFailure(error) });
  }
  // Curves of this shot are not needed for the next.
  await link.forgetUnused([]);
}

/** A full storage is told with what can be done about it. */
const sayFailure = (error: unknown): string => (/quota/i.test(String(error)) ? saySaveError(error) : sayError(error));

/** Stop: what is done stays done, what is not is left as it was. */
export function stopAll(): void {
  isStopped = true;
  for (const job of jobs) job.cancel();
}

/** Make all that was done as it was before; answers what could not be. */
export async function putAllBack(): Promise<string[]> {
  const refused: string[] = [];
  isStopped = false;
  useMany.setState({ going: true });
  for (const [id, standing] of Object.entries(useMany.getState().standings)) {
    if (standing.kind !== "done" || isStopped) continue;
    try {
      await putBack(id, standing.result);
    } catch (error) {
      refused.push(sayError(error));
    }
  }
  useMany.setState({ going: false });
  await refresh();
  return refused;
}

async function putBack(id: string, { name, putBack: back }: Result): Promise<void> {
  if (!back) throw new Error(`"${name}" stays: its copy on the shelf is the way back.`);
  await back();
  stand(id, { kind: "put back" });
}

/** Open the page with a recipe at hand. */
export function takeRecipe(recipe: Recipe, answers: Order["answers"]): void {
  if (useMany.getState().going) return;
  useMany.setState({ recipe, answers, standings: {} });
}

/** What came of each shot, a line of JSON for each. */
export function reportLines(): string {
  return Object.entries(useMany.getState().standings)
    .map(([id, standing]) => JSON.stringify(lineOf(id, standing)))
    .map((line) => `${line}\n`)
    .join("");
}

function lineOf(id: string, standing: Standing): object {
  if (standing.kind === "failed") return { shot: id, failed: standing.why };
  if (standing.kind !== "done") return { shot: id, [standing.kind]: true };
  const { result } = standing;
  const { keysBefore, keysAfter, drift, notes, warnings } = result.report;
  return {
    shot: id,
    written: result.id,
    name: result.name,
    keys: [keysBefore, keysAfter],
    drift: drift && { turn: drift.turn.amount, place: drift.place.amount },
    notes,
    warnings,
    caution: result.caution,
  };
}
