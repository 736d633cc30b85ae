import { type ChildProcess, execFile, spawn } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

// Processes of their own, which compile what they run.
jest.setTimeout(120_000);

const root = join(__dirname, "../../..");
const main = ["--conditions=kneader-source", "--import", "tsx", "apps/cli/src/main.ts"];
let folder = "";
const at = (...names: string[]) => join(folder, ...names);

interface Answer {
  readonly code: number;
  readonly lines: readonly Record<string, unknown>[];
  readonly said: string;
}

const kneader = (...args: string[]) =>
  new Promise<Answer>((resolve) => {
    execFile(process.execPath, [...main, ...args], { cwd: root, maxBuffer: 1e8 }, (error, stdout, said) => {
      const lines = stdout.split("\n").filter(Boolean);
      resolve({
        code: typeof error?.code === "number" ? error.code : 0,
        lines: args[0] === "recipe" ? lines.map((line) => JSON.parse(line)) : [],
        said,
      });
    });
  });

const recipe = (steps: object[]) => JSON.stringify({ format: "kneader-recipe", version: 1, name: "Test", steps });
const shots = 6;

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

const bytesIn = (name: string) => readdirSync(at(name)).map((file) => `${file} ${readFileSync(at(name, file), "utf8")}`);

test("the same bits whatever the number of jobs; a line a shot, in order; done again, what is newer is skipped", async () => {
  const [one, three] = await Promise.all(
    [1, 3].map((jobs) => kneader("recipe", at("finish.json"), at("in"), "--out", at(`out${jobs}`), "--jobs", String(jobs))),
  );
  expect([one.code, three.code]).toEqual([0, 0]);
  expect(three.lines.map(({ file }) => file)).toEqual(Array.from({ length: shots }, (_, n) => at("in", `walk-${n + 1}.json`)));
  expect(three.lines[0]).toMatchObject({ written: at("out3", "walk-1.json"), drift: null });
  expect(three.lines[0].steps).toHaveLength(3);
  expect(bytesIn("out3")).toEqual(bytesIn("out1"));
  const again = await kneader("recipe", at("finish.json"), at("in", "walk-*.json"), "--out", at("out3"));
  expect(again.lines.every(({ skipped }) => skipped)).toBe(true);
  expect(again.lines).toHaveLength(shots);
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
  writeFileSync(at("nobody.json"), recipe([{ operation: "simplify", who: { part: "wings" } }]));
  const nobody = await kneader("recipe", at("nobody.json"), at("walk.json"), "--out", at("none"));
  expect(nobody.lines[0].failed).toMatch(/^Step 1, Simplify: nobody here is the part "wings"/);
});

test("answers are given by step and name; names that do not fit together are refused before anything is done", async () => {
  writeFileSync(at("ask.json"), recipe([{ operation: "simplify", asks: ["rotation"] }]));
  const ask = (value: string) =>
    kneader("recipe", at("ask.json"), at("walk.json"), "--out", at(`ask${value}`), "--set", `1.rotation=${value}`);
  const [coarse, fine] = await Promise.all([ask("9"), ask("0.1")]);
  expect((coarse.lines[0].keys as number[])[1]).toBeLessThan((fine.lines[0].keys as number[])[1]);
  const [clash, unknown, usage] = await Promise.all([
    kneader("recipe", at("finish.json"), at("in", "walk-1.json"), at("mixed", "..", "in", "..", "in", "walk-1.json"), "--out", at("clash")),
    kneader("recipe", "no such thing", at("walk.json"), "--out", at("x")),
    kneader("recipe", at("finish.json"), at("walk.json")),
  ]);
  expect(clash.code).toBe(0);
  expect(unknown).toMatchObject({ code: 1, lines: [] });
  expect(unknown.said).toMatch(/"Clean a capture".*is called so/);
  expect(usage.code).toBe(2);
});

test("killed in the middle and run again, every shot is there and whole", async () => {
  const run = (): ChildProcess =>
    spawn(process.execPath, [...main, "recipe", at("finish.json"), at("in"), "--out", at("killed"), "--jobs", "2"], { cwd: root });
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
