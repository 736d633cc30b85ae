import { catalogue, checkSettings, noContext, operationById, runOperation } from "@kneader/core";
import { defaultShortcuts, fixedShortcuts, whyNotShortcut } from "../src/bench/commandKeys.ts";
import { commands } from "../src/bench/commands/commands.ts";
import { mostChanged } from "../src/help/beforeAfter.ts";
import { hasPicture, prepareExample } from "../src/help/examples.ts";
import { makeDemoShot } from "../src/shots/demo.ts";

const run = async (
  id: string,
  ...[shot, scope, settings]: Parameters<Parameters<typeof prepareExample>[2]> extends [string, ...infer Rest] ? Rest : never
) => {
  const operation = operationById(id);
  return (await runOperation(operation, shot, scope, checkSettings(operation, settings), noContext)).shot;
};

describe("the page of help of an operation", () => {
  test.each(catalogue.map(({ title, guide }) => [title, guide]))("%s says what it is for and what to watch for", (_title, guide) => {
    for (const text of [guide?.use, guide?.watch]) expect(text).toMatch(/^[A-Z0-9].{30,}[.]$/);
  });

  const pictured = catalogue.filter(({ id }) => hasPicture(id));
  test.each(pictured.map(({ title, id }) => [title, id]))("%s shows a curve of the demo before and after", async (_title, id) => {
    const example = await prepareExample(id, makeDemoShot, run);
    if (!example) throw new Error("no example");
    const after = await run(id, example.shot, example.scope, example.settings);
    const picture = mostChanged(example.shot, after, example.scope.controls);
    expect(picture?.before.length).toBeGreaterThan(10);
    expect(picture?.before).not.toEqual(picture?.after);
  });
});

describe("shortcuts", () => {
  test("no two commands come with the same one, and each belongs to a command", () => {
    const keys = Object.values(defaultShortcuts);
    expect(new Set(keys).size).toBe(keys.length);
    const known = new Set([...commands.map(({ id }) => id), "find-command"]);
    expect(Object.keys(defaultShortcuts).filter((id) => !known.has(id))).toEqual([]);
  });

  test("what means the same everywhere, and what the browser keeps, cannot be given away", () => {
    for (const keys of ["space", "shift+space", "enter", "escape", "tab", "mod+tab"])
      expect(whyNotShortcut(keys)).toMatch(/cannot be given away|browser/);
    for (const keys of ["mod+t", "mod+shift+n", "f5", "mod+w"]) expect(whyNotShortcut(keys)).toMatch(/browser/);
    expect(whyNotShortcut("mod+c")).toMatch(/copies/);
    for (const [id, keys] of Object.entries(defaultShortcuts))
      if (!fixedShortcuts.has(id)) expect([id, whyNotShortcut(keys)]).toEqual([id, null]);
  });
});
