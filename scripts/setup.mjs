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

/** Install packages when the lock file changed since the last time. */
export function installPackages() {
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
  console.log("Installing packages …");
  if (!run("npm", ["install", "--no-audit", "--no-fund"])) {
    console.error("The packages could not be installed. See the messages above.");
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

/** Build the command line unless its last build is newer than everything it is made from. */
export function buildCommandLine() {
  const built = join(root, "apps/cli/dist/kneader.js");
  if (existsSync(built) && statSync(built).mtimeMs > newest(["packages", "apps/cli"])) return;
  const vite = join(root, "node_modules/vite/bin/vite.js");
  const result = spawnSync(process.execPath, [vite, "build", "apps/cli"], { cwd: root, stdio: ["ignore", "ignore", "inherit"] });
  if (result.status === 0) return;
  console.error("The command line could not be built. See the messages above.");
  process.exit(1);
}

/** Build the application unless the last build is newer than everything it is made from. */
export function buildApplication() {
  const built = join(root, "apps/web/dist/index.html");
  if (existsSync(built) && statSync(built).mtimeMs > newest(["packages", "apps/web"])) return;
  console.log("Building the application …");
  if (!run("npm", ["run", "-s", "build"])) {
    console.error("The application could not be built. See the messages above.");
    process.exit(1);
  }
}
