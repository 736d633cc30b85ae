// npm run bench [section ...]: medians, ratios to general-purpose libraries in the same run; writes bench/results.json
// and docs/performance.md. Sections that are not named keep what was measured last.
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { fileURLToPath } from "node:url";
import { benchActions } from "./actions.ts";
import { benchBrowser } from "./browser.ts";
import { benchCharacters } from "./characters.ts";
import { benchFiles } from "./files.ts";
import { benchFlightsAndTakes } from "./flightsAndTakes.ts";
import { benchLongShots } from "./longShots.ts";
import type { Row } from "./measure.ts";
import { benchPoses } from "./poses.ts";
import { benchSampling } from "./sampling.ts";
import { benchSimplify } from "./simplifying.ts";
import { benchStack } from "./stack.ts";
import { benchTies } from "./ties.ts";
import { benchStarting } from "./starting.ts";
import { benchTuning } from "./tuning.ts";

const sections: readonly [string, () => Promise<Row[]>][] = [
  ["Files", benchFiles],
  ["Sampling", benchSampling],
  ["The stack", benchStack],
  ["Simplify", benchSimplify],
  ["Long shots", benchLongShots],
  ["Characters", benchCharacters],
  ["Poses", benchPoses],
  ["Ties", benchTies],
  ["Actions", benchActions],
  ["Flights and takes", benchFlightsAndTakes],
  ["Tuning", benchTuning],
  ["Starting", benchStarting],
  ["In the browser", benchBrowser],
];

const number = (ms: number) => (ms >= 100 ? ms.toFixed(0) : ms >= 1 ? ms.toFixed(2) : ms >= 1e-4 ? ms.toFixed(4) : ms.toExponential(1));
const CHILD = "--section";

/** A section measured in a process of its own: what one teaches the engine must not colour another. */
function measured(title: string): Row[] {
  const script = fileURLToPath(import.meta.url);
  const options = { encoding: "utf8" as const, stdio: ["ignore", "pipe", "inherit"] as ["ignore", "pipe", "inherit"], maxBuffer: 1e8 };
  return JSON.parse(execFileSync(process.execPath, [...process.execArgv, script, CHILD, title], options));
}

const [first, ...others] = process.argv.slice(2);
if (first === CHILD) {
  const section = sections.find(([title]) => title === others[0]);
  process.stdout.write(JSON.stringify(await section?.[1]()));
  process.exit(0);
}

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const named = first === undefined ? [] : [first, ...others];
const before = JSON.parse(readFileSync(at("./results.json"), "utf8")) as Record<string, Row[]>;
const lines: string[] = [];
const results: Record<string, Row[]> = {};
for (const [title] of sections) {
  console.log(title);
  results[title] = named.length > 0 && !named.includes(title) && before[title] ? before[title] : measured(title);
  lines.push("", `## ${title}`, "", "| work | median ms | against | ratio | asked | met | |", "|---|---|---|---|---|---|---|");
  for (const row of results[title]) {
    const times = row.against ? `${(row.against.ms / row.ms).toFixed(1)} ×` : "";
    const against = row.against ? `${row.against.name}, ${number(row.against.ms)} ms` : "";
    const met = row.met === undefined ? "" : row.met ? "yes" : "**no**";
    lines.push(`| ${row.work} | ${number(row.ms)} | ${against} | ${times} | ${row.target ?? ""} | ${met} | ${row.note ?? ""} |`);
    console.log(`  ${row.work}: ${number(row.ms)} ms ${times} ${row.target ?? ""} ${met} ${row.note ?? ""}`);
  }
}
const head = [
  "# Performance",
  "",
  `Written by \`npm run bench\` on Node ${process.versions.node}, ${cpus().length} cores (${cpus()[0]?.model ?? "unknown"}). Absolute times move from run to run; read the ratios, each measured within one run. The capture is the open motion-capture file of the tests.`,
];
writeFileSync(at("../docs/performance.md"), `${[...head, ...lines].join("\n")}\n`);
writeFileSync(at("./results.json"), `${JSON.stringify(results, null, 1)}\n`);
