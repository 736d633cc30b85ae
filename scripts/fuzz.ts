// npm run fuzz: damaged files through every reader, operations with hostile scopes and settings, and chains of 50 legal
// steps that are undone again, for under two minutes;
// npm run fuzz -- --long for an hour, -- --from N from a number that was printed. Prints what should not have happened.
import { parseArgs } from "node:util";
import { fuzzChain } from "../packages/core/test/help/fuzzChains.ts";
import { fuzzFiles } from "../packages/core/test/help/fuzz.ts";
import { fuzzOperations } from "../packages/core/test/help/fuzzOperations.ts";

const { values } = parseArgs({ options: { long: { type: "boolean" }, from: { type: "string" } } });
/** Milliseconds in all, and when of them files and operations are done with. */
const TIME = values.long ? 60 * 60_000 : 95_000;
const FILES = 0.5;
const OPERATIONS = 0.7;
/** Milliseconds a file or an operation may take on a machine that does nothing else. */
const PATIENCE = 10_000;
const from = Number(values.from ?? 0);
const began = performance.now();

/** Do lots until the time is over; answers how many. */
async function until(end: number, lot: number, work: (from: number, count: number) => Promise<void>): Promise<number> {
  let done = 0;
  for (; performance.now() - began < end; done += lot) await work(from + done, lot);
  return done;
}

const files = { accepted: 0, refused: 0, slowest: 0, faults: 0 };
let memory = 0;
const read = await until(TIME * FILES, 100, async (at, count) => {
  const { accepted, refused, slowest, faults } = await fuzzFiles(at, count, PATIENCE);
  memory = Math.max(memory, process.memoryUsage().rss);
  files.accepted += accepted;
  files.refused += refused;
  files.slowest = Math.max(files.slowest, slowest);
  files.faults += faults.length;
  for (const { n, file, what } of faults) console.log(`\nfile ${n} (${file}): ${what}`);
});
console.log(
  `${read} damaged files from ${from} on: ${files.accepted} accepted, ${files.refused} refused in a sentence, ${files.faults} faults; slowest ${Math.round(files.slowest)} ms, memory ${Math.round(memory / 1048576)} MB at the most`,
);

const runs = { done: 0, refused: 0, slowest: 0, faults: 0 };
const tried = await until(TIME * OPERATIONS, 20, async (at, count) => {
  const { done, refused, slowest, faults } = await fuzzOperations(at, count, PATIENCE);
  runs.done += done;
  runs.refused += refused;
  runs.slowest = Math.max(runs.slowest, slowest);
  runs.faults += faults.length;
  for (const { n, operation, what } of faults) console.log(`\nrun ${n} (${operation}): ${what}`);
});
console.log(
  `${tried} hostile operations from ${from} on: ${runs.done} done, ${runs.refused} refused in a sentence, ${runs.faults} faults; slowest ${Math.round(runs.slowest)} ms`,
);

const chains = { steps: 0, refused: 0, stopped: 0, faults: 0 };
const made = await until(TIME, 1, async (at) => {
  const { steps, refused, stopped, faults } = await fuzzChain(at, began + TIME);
  chains.steps += steps;
  chains.refused += refused;
  chains.stopped += stopped;
  chains.faults += faults.length;
  for (const fault of faults) console.log(`\n${fault}`);
});
console.log(
  `${made} chains of 50 steps from ${from} on: ${chains.steps} done, ${chains.refused} refused in a sentence, ${chains.stopped} stopped after ten seconds, ${chains.faults} faults`,
);
process.exit(files.faults + runs.faults + chains.faults === 0 ? 0 : 1);
