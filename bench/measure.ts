import { Bench } from "tinybench";

/** One line of the report: our median, and the ratio to a library or the limit it must keep. */
export interface Row {
  readonly work: string;
  /** Median of one run, milliseconds. */
  readonly ms: number;
  /** The general-purpose library measured in the same run, and its median. */
  readonly against?: { readonly name: string; readonly ms: number };
  /** What is asked: at least so many times as quick, or at most so many milliseconds or keys. */
  readonly target?: string;
  readonly met?: boolean;
  readonly note?: string;
}

/** Rounds in which all pieces of work take their turns, so that a slow moment of the machine hits all of them. */
const ROUNDS = 21;

export const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1];

/** Medians of several pieces of work (milliseconds a run), measured in turn in one run. */
export async function medians(works: Readonly<Record<string, () => unknown>>, time = 900): Promise<Record<string, number>> {
  const seen: Record<string, number[]> = Object.fromEntries(Object.keys(works).map((name) => [name, []]));
  for (let round = 0; round < ROUNDS; round++) {
    const bench = new Bench({ time: time / ROUNDS, warmup: round === 0, warmupTime: 150, iterations: 3 });
    for (const [name, work] of Object.entries(works)) bench.add(name, work);
    await bench.run();
    for (const { name, result } of bench.tasks) {
      if (!("latency" in result)) throw new Error(`${name} could not be measured: ${JSON.stringify(result)}`);
      seen[name].push(result.latency.p50);
    }
  }
  return Object.fromEntries(Object.entries(seen).map(([name, times]) => [name, median(times)]));
}

/** Ours against a library: how many times as quick, and whether that is enough. */
export function ratio(work: string, ours: number, name: string, theirs: number, least: number, note?: string): Row {
  return { work, ms: ours, against: { name, ms: theirs }, target: `at least ${least} ×`, met: theirs / ours >= least, note };
}

export function atMost(work: string, ms: number, limit: number, note?: string): Row {
  return { work, ms, target: `under ${limit} ms`, met: ms < limit, note };
}
