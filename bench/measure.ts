import { Bench } from "tinybench";
import { quietRounds, takeUnsure } from "./steadiness.ts";

/** One line of the report: our median, and the ratio to a library or the limit it must keep. */
export interface Row {
  readonly work: string;
  /** Median of one run, milliseconds. */
  readonly ms: number;
  /** The general-purpose library measured in the same run, and its median. */
  readonly against?: { readonly name: string; readonly ms: number /** The median of pairs. */; readonly times?: number };
  /** What is asked: at least so many times as quick, or at most so many milliseconds or keys. */
  readonly target?: string;
  readonly met?: boolean;
  readonly note?: string;
  /** The machine was hardly quiet meanwhile: a time that is missed is not known to be. */
  readonly unsure?: boolean;
}

/** Whether what was asked was met, in a word. */
export const sayMet = ({ met, unsure }: Row): string => (met === undefined ? "" : met ? "yes" : unsure ? "unknown" : "**no**");

/** Rounds in which all pieces of work take their turns, so that a slow moment of the machine hits all of them. */
const ROUNDS = 21;

export const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1];

/** By what `medians` answered: what each piece of work took round by round. */
const roundsOf = new WeakMap<object, { readonly times: Readonly<Record<string, readonly number[]>>; readonly unsure: boolean }>();

/** How many times as long one piece of work takes as another: the median over rounds in which both took their turns. */
function timesOf({ measured, ours, theirs }: Pair): { times: number; unsure: boolean } {
  const rounds = roundsOf.get(measured);
  if (!rounds) throw new Error("not measured in rounds");
  return { times: median(rounds.times[theirs].map((one, n) => one / rounds.times[ours][n])), unsure: rounds.unsure };
}

/** Medians of several pieces of work (milliseconds a run), measured in turn in one run, over the rounds in which the machine was quiet. */
export async function medians(works: Readonly<Record<string, () => unknown>>, time = 900): Promise<Record<string, number>> {
  const seen: Record<string, number[]> = Object.fromEntries(Object.keys(works).map((name) => [name, []]));
  let isWarm = false;
  const rounds = await quietRounds(ROUNDS, async () => {
    const bench = new Bench({ time: time / ROUNDS, warmup: !isWarm, warmupTime: 150, iterations: 3 });
    isWarm = true;
    for (const [name, work] of Object.entries(works)) bench.add(name, work);
    await bench.run();
    return Object.fromEntries(
      bench.tasks.map(({ name, result }) => {
        if (!("latency" in result)) throw new Error(`${name} could not be measured: ${JSON.stringify(result)}`);
        return [name, result.latency.p50];
      }),
    );
  });
  for (const round of rounds) for (const [name, took] of Object.entries(round)) seen[name].push(took);
  const measured = Object.fromEntries(Object.entries(seen).map(([name, times]) => [name, median(times)]));
  roundsOf.set(measured, { times: seen, unsure: takeUnsure() });
  return measured;
}

/** What is measured together: by their names in `measured`, ours and a library's, with the library's name. */
export interface Pair {
  readonly measured: Readonly<Record<string, number>>;
  readonly ours: string;
  readonly theirs: string;
  readonly name: string;
}

/** Median of a few runs of something that takes long (milliseconds), after one that teaches the engine. */
export async function medianRun(work: () => unknown, runs = 5): Promise<number> {
  await work();
  return medianOf(runs, async () => {
    const start = performance.now();
    await work();
    return performance.now() - start;
  });
}

/** Median of a few times (milliseconds, which `time` answers) on a quiet machine. */
export const medianOf = async (runs: number, time: () => Promise<number>): Promise<number> => median(await quietRounds(runs, time));

/** Ours against a library: how many times as quick (the median of pairs), and whether that is enough. */
export function ratio(work: string, pair: Pair, least: number, note?: string): Row {
  const { measured, ours, theirs, name } = pair;
  const { times, unsure } = timesOf(pair);
  const against = { name, ms: measured[theirs], times };
  return { work, ms: measured[ours], against, target: `at least ${least} ×`, met: times >= least, note, unsure };
}

export function atMost(work: string, ms: number, limit: number, note?: string): Row {
  return { work, ms, target: `under ${limit} ms`, met: ms < limit, note, unsure: takeUnsure() };
}
