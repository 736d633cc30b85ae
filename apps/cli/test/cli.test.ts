import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { catalogue } from "@kneader/core";
import { runCli } from "../src/cli.ts";

// A whole capture is read and written.
jest.setTimeout(30_000);

const capture = join(__dirname, "../../../packages/core/test/fixtures/cmu-01-01.bvh");
let folder = "";
const at = (name: string) => join(folder, name);

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "kneader-cli-"));
  const rows = Array.from({ length: 24 }, (_, i) => `${i + 1},${(20 * Math.sin(i / 3)).toFixed(4)},${(0.1 * i).toFixed(3)}`);
  writeFileSync(at("wave.csv"), `frame,spine.rotateX,root.moveZ\n${rows.join("\n")}\n`);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Run and read the report. */
async function json(...args: string[]) {
  const result = await runCli(args);
  expect({ code: result.code, messages: result.code === 0 ? [] : result.messages }).toEqual({ code: 0, messages: [] });
  return JSON.parse(String(result.output));
}

describe("info", () => {
  test("says what a file holds", async () => {
    expect(await json("info", capture)).toMatchObject({ controls: 31, curves: 96, range: { start: 1, end: 2752 }, framesPerSecond: 120 });
  });

  test("messages of the reader go to standard error", async () => {
    const { output, messages } = await runCli(["info", capture]);
    expect(messages.join()).toMatch(/20 of 96 channels never change/);
    expect(() => JSON.parse(String(output))).not.toThrow();
  });
});

describe("convert", () => {
  test.each(["json", "glb", "gltf", "bvh", "csv"])("CSV to %s and back to a table of the same values", async (format) => {
    await json("convert", at("wave.csv"), at(`over.${format}`));
    await json("convert", at(`over.${format}`), at(`back-${format}.csv`));
    const [heading, ...rows] = readFileSync(at(`back-${format}.csv`), "utf8")
      .trim()
      .split("\n");
    const column = heading.split(",").indexOf("spine.rotateX");
    expect(rows).toHaveLength(24);
    rows.forEach((row, i) => {
      expect(Number(row.split(",")[column])).toBeCloseTo(20 * Math.sin(i / 3), 3);
    });
  });

  test("leaves no half-written file behind", () => {
    expect(readdirSync(folder).filter((name) => name.endsWith(".part"))).toEqual([]);
  });
});

describe("apply", () => {
  test("simplify reports keys and drift and writes the result", async () => {
    const report = await json("apply", "simplify", at("wave.csv"), at("few.json"), "--set", "rotation=0.5", "--set", "together=curve");
    expect(report).toMatchObject({ operation: "simplify", settings: { rotation: 0.5, together: "curve" }, written: at("few.json") });
    expect(report.report.keysBefore).toBe(48);
    expect(report.report.keysAfter).toBeLessThan(20);
    expect(report.report.worstCurve.amount).toBeLessThanOrEqual(0.5);
    expect((await json("info", at("few.json"))).keys).toBe(report.report.keysAfter);
  });

  test("only some controls, only a range", async () => {
    const { report } = await json(
      "apply",
      "set-tangents",
      at("wave.csv"),
      at("t.json"),
      "--controls",
      "spine",
      "--range",
      "5-8",
      "--set",
      "kind=flat",
    );
    expect(report.summary).toBe("4 keys made flat");
    expect(report.curvesChanged).toBe(1);
  });

  test("an action is saved to a file and applied from it", async () => {
    await json("apply", "save-action", at("wave.csv"), at("sway.json"), "--set", "name=Sway", "--set", "tags=a, b", "--range", "1-12");
    const action = JSON.parse(readFileSync(at("sway.json"), "utf8"));
    expect(action).toMatchObject({ format: "kneader-action", action: { card: { name: "Sway", tags: ["a", "b"] }, clip: { length: 11 } } });
    const { report } = await json(
      "apply",
      "apply-action",
      at("wave.csv"),
      at("twice.json"),
      "--set",
      `action=@${at("sway.json")}`,
      "--set",
      "at=13",
    );
    expect(report.summary).toMatch(/Laid "Sway" on 2 curves as keys, frames 13 to 24/);
  });

  test("what the operation refuses fails with its message and code 1", async () => {
    const { code, output, messages } = await runCli(["apply", "bake-passes", at("wave.csv"), at("x.json")]);
    expect([code, output]).toEqual([1, ""]);
    expect(messages.join()).toMatch(/no pass is on\. Switch on the passes/);
  });
});

test("operations lists the whole catalogue with its settings as JSON", async () => {
  const list = await json("operations");
  expect(list.map((o: { id: string }) => o.id)).toEqual(catalogue.map((operation) => operation.id));
  expect(list[0].settings.properties.rotation).toMatchObject({ type: "number", default: 0.5, unit: "degrees" });
});

describe("demo", () => {
  test("lists the demo's shots, and writes one by its name in any format", async () => {
    const list = await json("demo");
    expect(list.map(({ name }: { name: string }) => name)).toContain("Half a walk");
    const result = await runCli(["demo", "half a walk", at("walk.bvh")]);
    expect(result.code).toBe(0);
    expect(await json("info", at("walk.bvh"))).toMatchObject({ name: "walk", framesPerSecond: 24 });
    expect(await json("demo", "hand-over-the-lantern", at("lantern.json"))).toMatchObject({ name: "Hand over the lantern" });
    expect((await json("info", at("lantern.json"))).constraints).toEqual([{ kind: "space", name: "Lantern", on: true }]);
  });
});

describe("called wrongly: code 2, nothing on standard output, what is wrong on standard error", () => {
  test.each([
    [[], "Say what to do"],
    [["melt"], '"melt" is not a command'],
    [["info"], "info needs one FILE"],
    [["demo", "moon landing", "out.json"], 'no demo shot "moon landing". There are: Half a walk'],
    [["demo", "half a walk"], "demo needs NAME and OUT"],
    [["convert", "a.bvh"], "convert needs IN and OUT"],
    [["convert", "a.bvh", "b.abc"], '"b.abc" is of a kind that is not known here'],
    [["convert", "a.bvh", "b.bhv"], 'Did you mean ".bvh"?'],
    [["convrt", "a.bvh", "b.bvh"], 'Did you mean "convert"?'],
    [["convert", "-", "b.bvh"], '"-" needs --from EXT'],
    [["convert", "a.bvh", "b.bvh", "--from", "csv"], '--from is for "-"'],
    [["operations", "simplfy"], 'Did you mean "simplify"?'],
    [["help", "simplify"], '"simplify" is not a command'],
    [["apply", "save-action", "a.csv", "sway.glb"], "makes an action, which is a .json file"],
    [["apply", "simplify", capture, "b.json", "--controls", "Hipz"], 'no "Hipz". Did you mean "Hips"?'],
    [["apply", "simplify", capture, "b.json", "--layer", "Pass 9"], 'no "Pass 9"'],
    [["apply", "simplify", "a.bvh", "b.json", "--range", "9-5"], "it ends before it begins"],
    [["apply", "simplify", "a.bvh", "b.json", "--set", "together=curv"], 'Did you mean "curve"?'],
    [["apply", "simplify", "a.bvh", "b.json", "--set", "rotation=-4"], "setting rotation should not be below 0"],
    [["apply", "simplify", "a.bvh", "b.json", "--set", "rotaton=4"], 'Did you mean "rotation"?'],
    [["apply", "melt", "a", "b"], 'no operation "melt"'],
    [["apply", "simplify", "a.bvh"], "apply needs OPERATION, IN and OUT"],
    [["apply", "simplify", "a", "b", "--set", "rotation"], '--set needs NAME=VALUE, not "rotation"'],
    [["apply", "simplify", "a", "b", "--set", "size=1"], 'has no setting "size"'],
    [["apply", "simplify", "a", "b", "--set", "rotation=wide"], '"wide" is not a number'],
    [["apply", "simplify", "a", "b", "--set", "extremes=maybe"], "neither true nor false"],
    [["apply", "simplify", "a", "b", "--set"], "--set needs a value"],
    [["apply", "simplify", "a", "b", "--loud"], '"--loud" is no option of apply'],
    [["apply", "simplify", capture, "b.json", "--range", "5"], "--range needs first-last"],
  ])("%j", async (args, message) => {
    const { code, output, messages } = await runCli(args);
    expect([code, output]).toEqual([2, ""]);
    expect(messages[0]).toContain(message);
    // One sentence, and where more is told.
    expect(messages).toHaveLength(2);
    expect(messages[1]).toMatch(/^"kneader help( \w+)?" tells how it is called\.$/);
  });
});

describe("failing: code 1", () => {
  test.each([
    [["info", "no-such.bvh"], "cannot be read: it is not there"],
    [["info", "."], "of a kind that is not known|it is a folder"],
    [["convert", capture, "no/such/folder/out.json"], '"no/such/folder/out.json" cannot be written: it is not there'],
    [["apply", "apply-action", capture, "out.json", "--set", "action=@no-such.json"], '"no-such.json" cannot be read: it is not there'],
    [["apply", "apply-action", capture, "out.json", "--set", `action=@${capture}`], "is no JSON"],
  ])("%j", async (args, message) => {
    const { code, messages } = await runCli(args);
    expect(code).toBe(1);
    expect(messages.join()).toMatch(new RegExp(message));
    // Never what only the system says.
    expect(messages.join()).not.toMatch(/ENO|EIS|SyntaxError|Unexpected token|at \//);
  });
});

test("a .gltf finds its data beside it, and nothing outside its folder", async () => {
  await json("convert", capture, at("apart.gltf"));
  const file = JSON.parse(readFileSync(at("apart.gltf"), "utf8"));
  const uri: string = file.buffers[0].uri;
  mkdirSync(at("data"), { recursive: true });
  writeFileSync(at("data/motion 1.bin"), Buffer.from(uri.slice(uri.indexOf(",") + 1), "base64"));
  file.buffers[0].uri = "data/motion%201.bin";
  writeFileSync(at("apart.gltf"), JSON.stringify(file));
  expect((await json("info", at("apart.gltf"))).controls).toBeGreaterThan(20);
  mkdirSync(at("inner"), { recursive: true });
  writeFileSync(at("inner/outside.gltf"), JSON.stringify({ ...file, buffers: [{ ...file.buffers[0], uri: "../data/motion%201.bin" }] }));
  const { code, messages } = await runCli(["info", at("inner/outside.gltf")]);
  expect([code, messages.join()]).toEqual([1, expect.stringMatching(/is another file/)]);
});
