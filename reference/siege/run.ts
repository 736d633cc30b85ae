// npm run siege: kills of the browser, the server and the command line, servers that take turns, updates, full disks, clocks that
// jump, workers that die; a report at the end. -- --only ID[,ID], --times N. Takes an hour; builds must be there (npm start).
import { parseArgs } from "node:util";
import { brokenTab } from "./brokenTab.ts";
import { killBrowser } from "./killBrowser.ts";
import { killCommand } from "./killCommand.ts";
import { killServer } from "./killServer.ts";
import type { Trial } from "./trial.ts";
import { twoServers } from "./twoServers.ts";
import { update } from "./update.ts";

const trials: readonly Trial[] = [brokenTab, killBrowser, killCommand, killServer, twoServers, update];

const { values } = parseArgs({ options: { only: { type: "string" }, times: { type: "string" } } });
const only = values.only?.split(",") ?? trials.map(({ id }) => id);
const unknown = only.filter((id) => !trials.some((trial) => trial.id === id));
if (unknown.length > 0) throw new Error(`There is no ${unknown.join(", ")}; there are ${trials.map(({ id }) => id).join(", ")}.`);

const rows: string[] = [];
let faults = 0;
for (const trial of trials.filter(({ id }) => only.includes(id))) {
  const began = Date.now();
  const outcome = await trial.run(Number(values.times ?? 100), (text) => console.log(`${trial.id}: ${text}`));
  for (const fault of outcome.faults) console.log(`${trial.id}: FAULT ${fault}`);
  faults += outcome.faults.length;
  rows.push(
    `| ${trial.title} | ${outcome.times} | ${outcome.kept} | ${outcome.faults.length} | ${Math.round((Date.now() - began) / 1000)} s |`,
  );
}
console.log(`\n| What | Times | Looked for again | Faults | Took |\n| --- | --- | --- | --- | --- |\n${rows.join("\n")}`);
process.exit(faults === 0 ? 0 : 1);
