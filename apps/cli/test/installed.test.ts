import { execFileSync, spawnSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

/** The command line as it is packed and installed, called from a folder of its own as its users call it. */

jest.setTimeout(120_000);

const root = join(__dirname, "../../..");
let folder = "";
let bin = "";
const at = (...names: string[]) => join(folder, "work", ...names);

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "kneader-installed-"));
  mkdirSync(at(), { recursive: true });
  const packed = execFileSync("npm", ["pack", "--silent", "--pack-destination", folder], { cwd: join(root, "apps/cli"), encoding: "utf8" });
  // As an install lays it out: the package, what it depends on beside it, its name among the programs.
  const modules = join(folder, "node_modules");
  mkdirSync(join(modules, "@kneader"), { recursive: true });
  mkdirSync(join(modules, ".bin"));
  execFileSync("tar", ["-xzf", join(folder, packed.trim().split("\n").at(-1) as string), "-C", folder]);
  execFileSync("mv", [join(folder, "package"), join(modules, "@kneader/cli")]);
  const { dependencies } = JSON.parse(readFileSync(join(modules, "@kneader/cli/package.json"), "utf8"));
  for (const name of Object.keys(dependencies)) symlinkSync(join(root, "node_modules", name), join(modules, name));
  const program = join(modules, "@kneader/cli/dist/kneader.js");
  execFileSync("chmod", ["+x", program]);
  bin = join(modules, ".bin");
  symlinkSync(program, join(bin, "kneader"));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A line of a shell, as it is typed. */
function shell(line: string) {
  const { status, stdout, stderr } = spawnSync("sh", ["-c", line], {
    cwd: at(),
    env: { ...process.env, PATH: `${bin}:${process.env.PATH}` },
    encoding: "buffer",
    maxBuffer: 1e8,
  });
  return { code: status, out: stdout, text: stdout.toString(), said: stderr.toString() };
}

test("help, versions and examples: every command tells itself, and each example does what it says", () => {
  const { version } = JSON.parse(readFileSync(join(root, "apps/cli/package.json"), "utf8"));
  expect(shell("kneader --version")).toMatchObject({ code: 0, text: `${version}\n` });
  for (const line of ["kneader help", "kneader -h", "kneader --help"]) {
    const { code, text } = shell(line);
    expect(code).toBe(0);
    for (const name of ["info", "convert", "apply", "recipe", "operations", "demo"]) expect(text).toContain(`kneader ${name} `);
  }
  expect(shell('kneader demo "Half a walk" walk.bvh').code).toBe(0);
  mkdirSync(at("takes"), { recursive: true });
  shell("cp walk.bvh takes/one.bvh");
  writeFileSync(
    at("capture.json"),
    JSON.stringify({ format: "kneader-recipe", version: 1, name: "R", steps: [{ operation: "simplify", asks: ["rotation"] }] }),
  );
  for (const name of ["info", "convert", "apply", "recipe", "operations", "demo"]) {
    const help = shell(`kneader help ${name}`);
    expect([shell(`kneader ${name} -h`).text, shell(`kneader ${name} --help`).text]).toEqual([help.text, help.text]);
    const example = /For example:\n {2}(.*)/.exec(help.text)?.[1] as string;
    expect([example, shell(example).code]).toEqual([example, 0]);
  }
});

test("every format to every other one, and through pipes; the report is where the result is not", () => {
  const kinds = ["json", "glb", "gltf", "bvh", "csv"];
  expect(shell("kneader demo half-a-walk walk.json").code).toBe(0);
  for (const from of kinds) expect(shell(`kneader convert walk.json from.${from}`).code).toBe(0);
  for (const from of kinds)
    for (const to of kinds.slice(0, from === "json" ? 5 : 2)) {
      const { code, out, said } = shell(`cat from.${from} | kneader convert - - --from ${from} --to ${to}`);
      expect([from, to, code]).toEqual([from, to, 0]);
      const { range, written } = JSON.parse(said.split("\n").find((line) => line.startsWith("{")) as string);
      expect([written, range.end]).toEqual(["-", 13]);
      expect(out.length).toBeGreaterThan(1000);
    }
  const { code, text } = shell(
    "kneader demo waiting-on-board - --to bvh | kneader apply simplify - - --from bvh --to csv --set rotation=2 | head -1",
  );
  expect([code, text]).toEqual([0, expect.stringMatching(/^frame,/)]);
});

test("typos and wrong values end with 2, failures with 1, whatever is asked; errors as JSON on wish", () => {
  shell("kneader demo half-a-walk walk.json");
  for (const [line, code, says] of [
    ["kneader", 2, /Say what to do/],
    ["kneader infoo walk.json", 2, /Did you mean "info"/],
    ["kneader info walk.jsn", 1, /cannot be read: it is not there/],
    ["kneader convert walk.json walk.abc", 2, /Known are \.json/],
    ["kneader convert walk.json ./walk.json", 2, /is the file that is read/],
    ["kneader convert nowhere.json out.json", 1, /not there/],
    ["kneader convert walk.json no/such/out.json", 1, /cannot be written/],
    ["kneader apply smplify walk.json out.json", 2, /Did you mean "simplify"/],
    ["kneader apply simplify walk.json out.json --set rotation=a", 2, /not a number/],
    ["kneader apply simplify walk.json out.json --contrls hips", 2, /Did you mean "--controls"/],
    ["kneader apply simplify walk.json out.json --controls hisp", 2, /Did you mean "Hips"/],
    ["kneader apply bake-passes walk.json out.json", 1, /no pass is on/],
    ["kneader apply save-action walk.json out.glb", 2, /\.json file/],
    ["kneader recipe nothing.json walk.json --out o", 1, /no recipe that comes along/],
    ["kneader demo moonwalk out.json", 2, /There are: /],
    ["echo broken | kneader info - --from json", 1, /JSON/],
  ] as const) {
    const done = shell(line);
    expect([line, done.code, done.text]).toEqual([line, code, ""]);
    expect(done.said).toMatch(says);
    expect(done.said).not.toMatch(/at .*\.js:\d|ENOENT|node:/);
    if (code === 2 && !/convert/.test(line)) continue;
    const asJson = shell(line.replace("kneader", "kneader --errors json"));
    const told = asJson.said
      .trim()
      .split("\n")
      .map((each) => JSON.parse(each));
    expect([line, asJson.code, told.at(-1).error.kind === "usage"]).toEqual([line, code, code === 2]);
  }
  expect(existsSync(at("out.json"))).toBe(false);
  const empty = shell("kneader apply simplify walk.json later.json --range 500-600");
  expect([empty.code, empty.said]).toEqual([
    0,
    expect.stringMatching(/--range 500-600 holds no key of what is meant: they stand at frames 1 to 13/),
  ]);
});

test("the recipe and the make file of the docs run as they are printed", () => {
  const page = readFileSync(join(root, "docs/pipelines.md"), "utf8");
  const block = (kind: string) => new RegExp(`\`\`\`${kind}\n([\\s\\S]*?)\`\`\``).exec(page)?.[1] as string;
  mkdirSync(at("made", "takes"), { recursive: true });
  writeFileSync(at("made", "capture.json"), block("json"));
  writeFileSync(at("made", "Makefile"), block("make"));
  for (const name of ["one", "two"]) expect(shell(`kneader demo captured-signal made/takes/${name}.bvh`).code).toBe(0);
  const first = shell("cd made && make -j 2");
  expect([first.code, first.said.replaceAll(/make\[?.*\n/g, "")]).toEqual([0, ""]);
  for (const name of ["one", "two"]) expect(JSON.parse(shell(`kneader info made/clean/${name}.bvh`).text).controls).toBeGreaterThan(20);
  expect(shell("cd made && make -j 2").text).toMatch(/Nothing to be done/);
});

test("run by npm in the project, names are meant where one stands", () => {
  const { code, text } = shell(`npm --prefix ${root} run -s kneader -- demo half-a-walk by-npm.json`);
  expect([code, JSON.parse(text).written]).toEqual([0, "by-npm.json"]);
  expect(existsSync(at("by-npm.json"))).toBe(true);
  expect(existsSync(join(root, "by-npm.json"))).toBe(false);
});
