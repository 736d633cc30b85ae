// npm run fuzz [count] [from]: damaged files through every reader, and operations with hostile scopes and settings.
// Prints what should not have happened, with the number that makes it happen again.
import { fuzzFiles } from "../packages/core/test/help/fuzz.ts";
import { fuzzOperations } from "../packages/core/test/help/fuzzOperations.ts";

const [count = 20_000, from = 0] = process.argv.slice(2).map(Number);
/** Milliseconds a file or an operation may take on a machine that does nothing else. */
const PATIENCE = 4000;
let largest = 0;
const total = { accepted: 0, refused: 0, slowest: 0, faults: 0 };
for (let at = from; at < from + count; at += 500) {
  const { accepted, refused, slowest, faults } = await fuzzFiles(at, Math.min(500, from + count - at), PATIENCE);
  largest = Math.max(largest, process.memoryUsage().rss);
  total.accepted += accepted;
  total.refused += refused;
  total.slowest = Math.max(total.slowest, slowest);
  total.faults += faults.length;
  for (const { n, file, what } of faults) console.log(`\nfile ${n} (${file}): ${what}`);
}
console.log(
  `\n${count} files: ${total.accepted} accepted, ${total.refused} refused, ${total.faults} faults; slowest reading ${Math.round(total.slowest)} ms, memory ${Math.round(largest / 1048576)} MB at the most`,
);

const runs = Math.ceil(count / 10);
const operations = await fuzzOperations(from, runs, PATIENCE);
for (const { n, operation, what } of operations.faults) console.log(`\nrun ${n} (${operation}): ${what}`);
console.log(
  `${runs} operations: ${operations.done} done, ${operations.refused} refused, ${operations.faults.length} faults; slowest ${Math.round(operations.slowest)} ms`,
);
process.exit(total.faults + operations.faults.length === 0 ? 0 : 1);
