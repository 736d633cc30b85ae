// npm run bench [section ...]: medians, ratios to general-purpose libraries in the same run; writes bench/results.json
// and docs/performance.md. Sections that are not named keep what was measured last.
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { fileURLToPath } from "node:url";
import { fromRoot } from "./fromRoot.ts";
import { type Row, sayMet } from "./measure.ts";
import { calibrate, knowQuickest, quickestSoFar, quietShare } from "./steadiness.ts";

/** Each section is loaded only where it is measured: the driver of the browser alone makes all arithmetic a quarter slower. */
const sections: readonly [string, () => Promise<() => Promise<Row[]>>][] = [
  ["Files", async () => (await import("./files.ts")).benchFiles],
  ["Sampling", async () => (await import("./sampling.ts")).benchSampling],
  ["The stack", async () => (await import("./stack.ts")).benchStack],
  ["Simplify", async () => (await import("./simplifying.ts")).benchSimplify],
  ["Long shots", async () => (await import("./longShots.ts")).benchLongShots],
  ["Characters", async () => (await import("./characters.ts")).benchCharacters],
  ["Poses", async () => (await import("./poses.ts")).benchPoses],
  ["Ties", async () => (await import("./ties.ts")).benchTies],
  ["Actions", async () => (await import("./actions.ts")).benchActions],
  ["Flights and takes", async () => (await import("./flightsAndTakes.ts")).benchFlightsAndTakes],
  ["Tuning", async () => (await import("./tuning.ts")).benchTuning],
  ["Starting", async () => (await import("./starting.ts")).benchStarting],
  ["Memory", async () => (await import("./memory.ts")).benchMemory],
  ["In the browser", async () => (await import("./browser.ts")).benchBrowser],
];

/** Rows of a section, and the share of the rounds in which the machine was quiet. */
interface Section {
  readonly rows: readonly Row[];
  readonly quiet: number;
}

/** What was measured last, and the quickest the fixed arithmetic ever was on which machine (milliseconds). */
interface Kept {
  readonly machine: { readonly model: string; readonly quickest: number };
  readonly sections: Readonly<Record<string, Section>>;
}

const number = (ms: number) => (ms >= 100 ? ms.toFixed(0) : ms >= 1 ? ms.toFixed(2) : ms >= 1e-4 ? ms.toFixed(4) : ms.toExponential(1));
const CHILD = "--section";
/** For so long the machine at its quickest is looked for, before all and before each section (milliseconds). */
const LOOKED = [10_000, 1000] as const;

/** A section measured in a process of its own: what one teaches the engine must not colour another. */
function measured(title: string): Section {
  calibrate(LOOKED[1]);
  const script = fileURLToPath(import.meta.url);
  const options = { encoding: "utf8" as const, stdio: ["ignore", "pipe", "inherit"] as ["ignore", "pipe", "inherit"], maxBuffer: 1e8 };
  const told = [CHILD, title, String(quickestSoFar())];
  return JSON.parse(execFileSync(process.execPath, [...process.execArgv, script, ...told], options)) as Section;
}

const [first, ...others] = process.argv.slice(2);
if (first === CHILD) {
  knowQuickest(Number(others[1]));
  const bench = await sections.find(([title]) => title === others[0])?.[1]();
  const rows = (await bench?.()) ?? [];
  process.stdout.write(JSON.stringify({ rows, quiet: quietShare() }));
  process.exit(0);
}

const named = first === undefined ? [] : [first, ...others];
const kept = JSON.parse(readFileSync(fromRoot("bench/results.json"), "utf8")) as Kept;
const model = cpus()[0]?.model ?? "unknown";
// A machine that is slow for an hour does not know how quick it can be; what it was on another day tells.
if (kept.machine.model === model) knowQuickest(kept.machine.quickest);
const lines: string[] = [];
calibrate(LOOKED[0]);
const results: Record<string, Section> = {};
for (const [title] of sections) {
  console.log(title);
  results[title] = named.length > 0 && !named.includes(title) && kept.sections[title] ? kept.sections[title] : measured(title);
}
for (const [title] of sections) {
  const { rows, quiet } = results[title];
  const steady = `The machine was quiet in ${Math.round(100 * quiet)} % of the rounds; medians are of those, or of all where they are too few to be sure.`;
  lines.push("", `## ${title}`, "", steady);
  lines.push("", "| work | median ms | against | ratio | asked | met | |", "|---|---|---|---|---|---|---|");
  console.log(`${title}: ${steady}`);
  for (const row of rows) {
    const times = row.against ? `${(row.against.times ?? row.against.ms / row.ms).toFixed(1)} ×` : "";
    const against = row.against ? `${row.against.name}, ${number(row.against.ms)} ms` : "";
    const met = sayMet(row);
    lines.push(`| ${row.work} | ${number(row.ms)} | ${against} | ${times} | ${row.target ?? ""} | ${met} | ${row.note ?? ""} |`);
    console.log(`  ${row.work}: ${number(row.ms)} ms ${times} ${row.target ?? ""} ${met} ${row.note ?? ""}`);
  }
}
const head = [
  "# Performance",
  "",
  `Written by \`npm run bench\` on Node ${process.versions.node}, ${cpus().length} cores (${model}). Absolute times move from run to run; read the ratios, medians of pairs measured within one run. Before and after each round a fixed piece of arithmetic says whether the machine is quiet; rounds in which it was not are made again, and where too few are left, what is missed is unknown, not missed. What is measured is built as the application is. The capture is the open motion-capture file of the tests.`,
];
writeFileSync(fromRoot("docs/performance.md"), `${[...head, ...lines].join("\n")}\n`);
writeFileSync(
  fromRoot("bench/results.json"),
  `${JSON.stringify({ machine: { model, quickest: quickestSoFar() }, sections: results }, null, 1)}\n`,
);
