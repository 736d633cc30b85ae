import { type ChildProcess, execFile, spawn } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { runCli } from "../src/cli.ts";
import { inputsOf } from "../src/recipe/inputs.ts";

// Processes of their own.
jest.setTimeout(120_000);

const main = join(__dirname, "../dist/kneader.js");
let folder = "";
const at = (...names: string[]) => join(folder, ...names);

interface Answer {
  readonly code: number;
  readonly lines: readonly Record<string, unknown>[];
  readonly said: string;
}

const kneader = (...args: string[]) =>
  new Promise<Answer>((resolve) => {
    execFile(process.execPath, [main, ...args], { maxBuffer: 1e8 }, (error, stdout, said) => {
      const lines = stdout.split("\n").filter(Boolean);
      resolve({
        code: typeof error?.code === "number" ? error.code : 0,
        lines: args[0] === "recipe" ? lines.map((line) => JSON.parse(line)) : [],
        said,
      });
    });
  });

const recipe = (steps: object[]) => JSON.stringify({ format: "kneader-recipe", version: 1, name: "Test", steps });
const shots = 4;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "kneader-recipe-"));
  mkdirSync(at("in"));
  await kneader("demo", "Half a walk", at("walk.json"));
  for (let n = 1; n <= shots; n++) writeFileSync(at("in", `walk-${n}.json`), readFileSync(at("walk.json")));
  writeFileSync(
    at("finish.json"),
    recipe([{ operation: "other-half" }, { operation: "plant" }, { operation: "simplify", settings: { rotation: 1 } }]),
  );
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const bytesIn = (name: string) =>
  readdirSync(at(name))
    .filter((file) => file !== ".kneader")
    .map((file) => `${file} ${readFileSync(at(name, file), "utf8")}`);

test("the same bits whatever the number of jobs; a line a shot, in order", async () => {
  const [one, two] = await Promise.all(
    [1, 2].map((jobs) => kneader("recipe", at("finish.json"), at("in", "walk-*.json"), "--out", at(`out${jobs}`), "--jobs", String(jobs))),
  );
  expect([one.code, two.code]).toEqual([0, 0]);
  expect(two.lines.map(({ file }) => file)).toEqual(Array.from({ length: shots }, (_, n) => at("in", `walk-${n + 1}.json`)));
  expect(two.lines[0]).toMatchObject({ written: at("out2", "walk-1.json"), drift: null });
  expect(two.lines[0].steps).toHaveLength(3);
  expect(bytesIn("out2")).toEqual(bytesIn("out1"));
});

test("what fails stops nothing and is said with its step; the exit code tells", async () => {
  mkdirSync(at("mixed"));
  writeFileSync(at("mixed", "a.json"), "{ broken");
  writeFileSync(at("mixed", "b.json"), readFileSync(at("walk.json")));
  writeFileSync(at("wings.json"), recipe([{ operation: "simplify", who: { names: ["thigh*", "wing*"] } }]));
  const { code, lines } = await kneader("recipe", at("wings.json"), at("mixed"), "--out", at("mixed-out"));
  expect(code).toBe(1);
  expect(lines[0].failed).toMatch(/not written as it should be|makes no sense/);
  expect(lines[1]).toMatchObject({ written: at("mixed-out", "b.json") });
  expect(existsSync(at("mixed-out", "a.json"))).toBe(false);
  await expect(inputsOf([at("mixed", "b.json"), at("in", "..", "mixed-out", "b.json")], at("clash"))).rejects.toThrow(
    /would both be written to/,
  );
});

test("answers are given by step and name; a call that makes no sense is refused before anything is done", async () => {
  writeFileSync(at("ask.json"), recipe([{ operation: "simplify", asks: ["rotation"] }]));
  const { lines } = await kneader("recipe", at("ask.json"), at("walk.json"), "--out", at("asked"), "--set", "1.rotation=25");
  const [before, after] = lines[0].keys as [number, number];
  expect(after).toBeLessThan(0.7 * before);
  expect((await runCli(["recipe", at("finish.json"), at("walk.json")])).code).toBe(2);
  for (const more of [
    ["--jobs", "0"],
    ["--set", "9.rotation=1"],
    ["--set", "melt.rotation=1"],
    ["--set", "rotatoin=1"],
    ["--set", "rotation=wide"],
  ])
    expect((await runCli(["recipe", at("finish.json"), at("walk.json"), "--out", at("x"), ...more])).code).toBe(2);
  writeFileSync(at("twice.json"), recipe([{ operation: "simplify" }, { operation: "simplify" }]));
  const twice = await runCli(["recipe", at("twice.json"), at("walk.json"), "--out", at("x"), "--set", "rotation=1"]);
  expect([twice.code, twice.messages[0]]).toEqual([2, expect.stringMatching(/a setting of 1 simplify, 2 simplify: say which step/)]);
  expect(existsSync(at("x"))).toBe(false);
});

test("the originals stay: a result over a shot that is read is refused, by whatever name, unless that is said", async () => {
  mkdirSync(at("mine"));
  for (const n of [1, 2]) writeFileSync(at("mine", `walk-${n}.json`), readFileSync(at("walk.json")));
  symlinkSync(at("mine"), at("also-mine"));
  const before = bytesIn("mine");
  for (const out of [at("mine"), at("also-mine"), at("mine", "..", "mine")]) {
    const { code, lines, said } = await kneader("recipe", at("finish.json"), at("mine"), "--out", out);
    expect([code, lines]).toEqual([2, []]);
    expect(said).toMatch(/walk-1\.json" is ".*walk-1\.json", which is read: nothing was done\. .*--overwrite/);
    expect(bytesIn("mine")).toEqual(before);
  }
  for (const [command, ...more] of [["convert"], ["apply", "simplify"]]) {
    const args = [command, ...more, at("mine", "walk-1.json"), at("also-mine", "walk-1.json")];
    const refused = await runCli(args);
    expect([refused.code, refused.messages[0]]).toEqual([2, expect.stringMatching(/is the file that is read/)]);
    expect(bytesIn("mine")).toEqual(before);
    expect((await runCli([...args, "--overwrite"])).code).toBe(0);
    expect(bytesIn("mine")).not.toEqual(before);
    writeFileSync(at("mine", "walk-1.json"), readFileSync(at("walk.json")));
  }
});

test("what is skipped is what was made of this very shot, recipe, answers, and not changed since", async () => {
  const run = async (...more: string[]) => {
    const { lines } = await kneader("recipe", at("ask2.json"), at("in", "walk-1.json"), "--out", at("again"), ...more);
    return lines[0].skipped === true;
  };
  writeFileSync(at("ask2.json"), recipe([{ operation: "simplify", asks: ["rotation"] }]));
  expect(await run("--set", "1.rotation=1")).toBe(false);
  // Said in other words it is the same.
  expect(await run("--set", "simplify.rotation=1")).toBe(true);
  expect(await run("--set", "rotation=1")).toBe(true);
  const first = readFileSync(at("again", "walk-1.json"), "utf8");
  expect(await run("--set", "1.rotation=20")).toBe(false);
  expect(readFileSync(at("again", "walk-1.json"), "utf8")).not.toBe(first);
  // Told otherwise, changed by hand, or of a shot that changed, though that is older than the result.
  writeFileSync(at("ask2.json"), recipe([{ operation: "simplify", asks: ["rotation"], settings: { extremes: false } }]));
  expect(await run("--set", "1.rotation=20")).toBe(false);
  writeFileSync(at("again", "walk-1.json"), first);
  expect(await run("--set", "1.rotation=20")).toBe(false);
  const shot = readFileSync(at("in", "walk-1.json"), "utf8");
  writeFileSync(at("in", "walk-1.json"), shot.replace('"name"', ' "name"'));
  utimesSync(at("in", "walk-1.json"), 1, 1);
  expect(await run("--set", "1.rotation=20")).toBe(false);
  expect(await run("--set", "1.rotation=20")).toBe(true);
  writeFileSync(at("in", "walk-1.json"), shot);
});

test("killed in the middle and run again, every shot is there and whole", async () => {
  const run = (): ChildProcess =>
    spawn(process.execPath, [main, "recipe", at("finish.json"), at("in"), "--out", at("killed"), "--jobs", "2"]);
  const first = run();
  await new Promise<void>((resolve) => first.stdout?.once("data", () => resolve()));
  first.kill("SIGKILL");
  await new Promise((resolve) => first.once("exit", resolve));
  const { code, lines } = await kneader("recipe", at("finish.json"), at("in"), "--out", at("killed"));
  expect(code).toBe(0);
  expect(lines).toHaveLength(shots);
  expect(lines.some(({ skipped }) => skipped)).toBe(true);
  expect(bytesIn("killed").filter((file) => !file.includes(".part "))).toEqual(bytesIn("out1"));
});
