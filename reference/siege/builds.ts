import { execFileSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { root } from "./servers.ts";

/** Build the project as it was at a revision, in a folder of its own, after its sources were changed there; answers the folder. */
export function buildAt(
  revision: string,
  change: (read: (file: string) => string, write: (file: string, text: string) => void) => void,
): string {
  const folder = mkdtempSync(join(tmpdir(), "kneader-build-"));
  const archive = execFileSync("git", ["archive", revision], { cwd: root, maxBuffer: 1e9 });
  execFileSync("tar", ["-x", "-C", folder], { input: archive });
  // The packages that are installed, and beside them the project's own as they are there.
  const modules = join(folder, "node_modules");
  mkdirSync(join(modules, "@kneader"), { recursive: true });
  for (const name of readdirSync(join(root, "node_modules")))
    if (name !== "@kneader") symlinkSync(join(root, "node_modules", name), join(modules, name));
  for (const part of ["packages", "apps"])
    for (const name of readdirSync(join(folder, part))) {
      const { name: called } = JSON.parse(readFileSync(join(folder, part, name, "package.json"), "utf8"));
      symlinkSync(join(folder, part, name), join(modules, called));
      const own = join(root, part, name, "node_modules");
      if (existsSync(own)) symlinkSync(own, join(folder, part, name, "node_modules"));
    }
  change(
    (file) => readFileSync(join(folder, file), "utf8"),
    (file, text) => writeFileSync(join(folder, file), text),
  );
  const call = (...line: string[]) => execFileSync(process.execPath, line, { cwd: folder, stdio: ["ignore", "ignore", "inherit"] });
  call("scripts/kernel.mjs");
  for (const app of ["apps/web", "apps/server"]) call("node_modules/vite/bin/vite.js", "build", app, "--logLevel", "warn");
  return folder;
}
