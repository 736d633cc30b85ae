// npm test: install what is missing (packages, and Chromium from Debian), then check types, lint, unused
// code, unit tests and the interface in a real browser. Ends with one line: N passed, N failed.
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buildKernels } from "./kernel.mjs";
import { buildApplication, buildServer, installPackages, run } from "./setup.mjs";

installPackages();
await buildKernels();
needChromium();

/** The browser of the browser tests: CHROMIUM=path, or Debian's, which is installed where it can be. */
function needChromium() {
  const given = process.env.CHROMIUM;
  if (given && !existsSync(given)) end(`CHROMIUM names "${given}", and nothing is there.`);
  if (given || existsSync("/usr/bin/chromium")) return;
  const how = "Install Chromium, or say where it is: CHROMIUM=/path/to/chromium npm test";
  if (!existsSync("/usr/bin/apt-get")) end(`The browser tests need Chromium. ${how}`);
  console.log("The browser tests need Chromium: installing Debian's (about 300 MB, with apt-get) …");
  run("apt-get", ["update", "-qq"]);
  if (!run("apt-get", ["install", "-y", "-qq", "--no-install-recommends", "chromium"], { DEBIAN_FRONTEND: "noninteractive" }))
    end(`Chromium could not be installed. ${how}`);
}

function end(why) {
  console.error(why);
  process.exit(1);
}

const folder = mkdtempSync(join(tmpdir(), "kneader-test-"));
let passed = 0;
let failed = 0;
const note = (ok, name) => {
  console.log(`${ok ? "ok    " : "FAILED"} ${name}`);
  if (ok) passed++;
  else failed++;
};

/** Counts of a report, or one failure when the runner left none behind. */
function count(name, ok, file, read) {
  if (!existsSync(file)) return note(false, name);
  const [good, bad] = read(JSON.parse(readFileSync(file, "utf8")));
  passed += good;
  failed += bad;
  if (!ok && bad === 0) note(false, name);
}

try {
  for (const step of ["types", "lint", "unused"]) note(run("npm", ["run", "-s", step]), step);
  const units = join(folder, "units.json");
  const unitsOk = run("npx", ["--no-install", "jest", "--ci", "--json", `--outputFile=${units}`]);
  count("unit tests", unitsOk, units, (report) => [report.numPassedTests, report.numFailedTests + report.numRuntimeErrorTestSuites]);
  buildApplication();
  buildServer();
  const browser = join(folder, "browser.json");
  const browserOk = run("npm", ["run", "-s", "e2e", "--", "--reporter=list,json"], { PLAYWRIGHT_JSON_OUTPUT_NAME: browser });
  count("browser tests", browserOk, browser, ({ stats }) => [stats.expected + stats.flaky, stats.unexpected]);
} finally {
  rmSync(folder, { recursive: true, force: true });
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
