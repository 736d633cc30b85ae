// What both `npm start` and `npm test` need before anything of the project can run. Node's own modules only.
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** Run a command in the project, its output shown; true when it went well. */
export function run(command, args, env = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: "inherit", env: { ...process.env, ...env } });
  return result.status === 0;
}

/** The versions of Node on which everything that is installed here runs; `engines` in package.json says the same. */
const NODES = "Node 20.19, 22.13 or 24, or newer ones of these";

/** Is a version of Node one of those? */
export function isKnownNode(version) {
  const [major, minor] = version.split(".").map(Number);
  return (major === 20 && minor >= 19) || (major === 22 && minor >= 13) || major >= 24;
}

/** Ends where this Node cannot run what would be installed. */
export function needNode() {
  if (isKnownNode(process.versions.node)) return;
  console.error(`Kneader needs ${NODES}; this is ${process.versions.node}. Nothing was installed.`);
  process.exit(1);
}

/** Install packages when the lock file changed since the last time. */
export function installPackages() {
  needNode();
  const manifests = [
    "package.json",
    "package-lock.json",
    ...["packages", "apps"].flatMap((folder) => readdirSync(join(root, folder)).map((name) => join(folder, name, "package.json"))),
  ];
  const hash = createHash("sha256");
  for (const file of manifests) if (existsSync(join(root, file))) hash.update(readFileSync(join(root, file)));
  const wanted = hash.digest("hex");
  const stamp = join(root, "node_modules", ".setup-stamp");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted) return;
  console.log("Installing packages: once, about a minute, 713 MB in node_modules …");
  if (!run("npm", ["ci", "--no-audit", "--no-fund", "--loglevel", "error"])) {
    console.error(
      "The packages could not be installed. See the messages above; `npm install` mends a lock file that does not fit package.json.",
    );
    process.exit(1);
  }
  writeFileSync(stamp, wanted);
}

/** The newest change of any file below some folders, in milliseconds. */
function newest(folders) {
  let latest = 0;
  const visit = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      if (entry.name === "node_modules" || entry.name === "dist") continue;
      const path = join(folder, entry.name);
      if (entry.isDirectory()) visit(path);
      else latest = Math.max(latest, statSync(path).mtimeMs);
    }
  };
  for (const folder of folders) visit(join(root, folder));
  return latest;
}

/** Build a part of the project with Vite unless its last build is newer than everything it is made from. */
function build(what, folder, product, sources) {
  const built = join(root, folder, "dist", product);
  if (existsSync(built) && statSync(built).mtimeMs > newest(sources)) return;
  if (what) console.log(`Building ${what} …`);
  const vite = join(root, "node_modules/vite/bin/vite.js");
  const result = spawnSync(process.execPath, [vite, "build", folder, "--logLevel", "warn"], {
    cwd: root,
    stdio: ["ignore", "ignore", "inherit"],
  });
  if (result.status === 0) return;
  console.error(`${folder} could not be built. See the messages above.`);
  process.exit(1);
}

export const buildCommandLine = () => build(null, "apps/cli", "kneader.js", ["packages", "apps/cli"]);
export const buildServer = () => build(null, "apps/server", "main.js", ["packages", "apps/server"]);
export const buildApplication = () => build("the application (a quarter of a minute)", "apps/web", "index.html", ["packages", "apps/web"]);
