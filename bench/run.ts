// npm run bench [section ...]: medians, ratios to general-purpose libraries in the same run; writes bench/results.json
// and docs/performance.md. Sections that are not named keep what was measured last.
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { fileURLToPath } from "node:url";
import { type Row, sayMet } from "./measure.ts";
import { isQuiet, pulse, sayPulses } from "./steadiness.ts";

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

/** Rows of a section, and what the fixed arithmetic took before and after (milliseconds). */
interface Section {
  readonly rows: readonly Row[];
  readonly pulses: readonly number[];
}

const number = (ms: number) => (ms >= 100 ? ms.toFixed(0) : ms >= 1 ? ms.toFixed(2) : ms >= 1e-4 ? ms.toFixed(4) : ms.toExponential(1));
const CHILD = "--section";

/** A section measured in a process of its own: what one teaches the engine must not colour another, nor the fixed arithmetic. */
function measured(title: string): Section {
  const before = pulse();
  const script = fileURLToPath(import.meta.url);
  const options = { encoding: "utf8" as const, stdio: ["ignore", "pipe", "inherit"] as ["ignore", "pipe", "inherit"], maxBuffer: 1e8 };
  const rows = JSON.parse(execFileSync(process.execPath, [...process.execArgv, script, CHILD, title], options)) as Row[];
  return { rows, pulses: [before, pulse()] };
}

const [first, ...others] = process.argv.slice(2);
if (first === CHILD) {
  const bench = await sections.find(([title]) => title === others[0])?.[1]();
  process.stdout.write(JSON.stringify(await bench?.()));
  process.exit(0);
}

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const named = first === undefined ? [] : [first, ...others];
const kept = JSON.parse(readFileSync(at("./results.json"), "utf8")) as Record<string, Section>;
const lines: string[] = [];
// The first time warms the engine.
pulse();
const results: Record<string, Section> = {};
for (const [title] of sections) {
  console.log(title);
  results[title] = named.length > 0 && !named.includes(title) && kept[title] ? kept[title] : measured(title);
}
const quickest = Math.min(...Object.values(results).flatMap(({ pulses }) => pulses));
for (const [title] of sections) {
  const { rows, pulses } = results[title];
  const unsure = !isQuiet(pulses, quickest);
  const steady =
    pulses.length === 0
      ? "How steady the machine was is not known."
      : `${unsure ? "**The machine was not quiet**" : "The machine was quiet"}: the fixed arithmetic took ${sayPulses(pulses, quickest)}.`;
  lines.push("", `## ${title}`, "", steady);
  lines.push("", "| work | median ms | against | ratio | asked | met | |", "|---|---|---|---|---|---|---|");
  console.log(`${title}: ${steady}`);
  for (const row of rows) {
    const times = row.against ? `${(row.against.times ?? row.against.ms / row.ms).toFixed(1)} ×` : "";
    const against = row.against ? `${row.against.name}, ${number(row.against.ms)} ms` : "";
    const met = sayMet({ ...row, unsure });
    lines.push(`| ${row.work} | ${number(row.ms)} | ${against} | ${times} | ${row.target ?? ""} | ${met} | ${row.note ?? ""} |`);
    console.log(`  ${row.work}: ${number(row.ms)} ms ${times} ${row.target ?? ""} ${met} ${row.note ?? ""}`);
  }
}
const head = [
  "# Performance",
  "",
  `Written by \`npm run bench\` on Node ${process.versions.node}, ${cpus().length} cores (${cpus()[0]?.model ?? "unknown"}). Absolute times move from run to run; read the ratios, medians of pairs measured within one run. Between sections a fixed piece of arithmetic says how steady the machine was; where it was not quiet, what is missed is unknown, not missed. The capture is the open motion-capture file of the tests.`,
];
writeFileSync(at("../docs/performance.md"), `${[...head, ...lines].join("\n")}\n`);
writeFileSync(at("./results.json"), `${JSON.stringify(results, null, 1)}\n`);
