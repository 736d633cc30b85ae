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

/** Medians of several pieces of work, measured in turn in one run. */
export async function medians(works: Readonly<Record<string, () => unknown>>, time = 600): Promise<Record<string, number>> {
  const bench = new Bench({ time, warmupTime: 150, warmupIterations: 2, iterations: 5 });
  for (const [name, work] of Object.entries(works)) bench.add(name, work);
  await bench.run();
  return Object.fromEntries(
    bench.tasks.map((task) => {
      const { result } = task;
      if (!("latency" in result)) throw new Error(`${task.name} could not be measured: ${JSON.stringify(result)}`);
      return [task.name, result.latency.p50];
    }),
  );
}

/** Ours against a library: how many times as quick, and whether that is enough. */
export function ratio(work: string, ours: number, name: string, theirs: number, least: number, note?: string): Row {
  return { work, ms: ours, against: { name, ms: theirs }, target: `at least ${least} ×`, met: theirs / ours >= least, note };
}

export function atMost(work: string, ms: number, limit: number, note?: string): Row {
  return { work, ms, target: `under ${limit} ms`, met: ms < limit, note };
}
