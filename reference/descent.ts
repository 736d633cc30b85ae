import { createInterface } from "node:readline";
import { atOnce } from "../packages/core/src/inPieces.ts";
import { descentCases } from "../packages/core/test/help/descentCases.ts";

/** Answers what reference/descent.py asks: the cases, and a function's value and slope at a place. One line of JSON each. */
const cases = await descentCases();
for await (const line of createInterface({ input: process.stdin })) {
  const { list, name, x } = JSON.parse(line);
  if (list) {
    const bound = (one: number) => (Number.isFinite(one) ? one : null);
    const told = cases.map((one) => ({
      name: one.name,
      start: [...one.start],
      low: [...one.box.low].map(bound),
      high: [...one.box.high].map(bound),
      most: one.most,
    }));
    process.stdout.write(`${JSON.stringify(told)}\n`);
  } else {
    const slope = new Float64Array(x.length);
    const found = cases.find((one) => one.name === name)?.ask(Float64Array.from(x), slope);
    const value = typeof found === "object" ? atOnce(found) : found;
    process.stdout.write(`${JSON.stringify({ value, slope: [...slope] })}\n`);
  }
}
