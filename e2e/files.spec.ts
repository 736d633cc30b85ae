import { readFile } from "node:fs/promises";
import { fileURLToPath } from "node:url";
import { expect, type Page, test } from "@playwright/test";
import { apply, backToShelf, card, exportAs, frameField, openDemo, openShelf, previewed, reportedKeys, watchErrors } from "./bench.ts";

const capture = fileURLToPath(new URL("../packages/core/test/fixtures/cmu-01-01.bvh", import.meta.url));

const choose = (page: Page, name: string, bytes: Buffer) =>
  page.getByLabel("Shot file").setInputFiles({ name, mimeType: "application/octet-stream", buffer: bytes });

/** Drop a file on the page as the system does. */
async function drop(page: Page, name: string, bytes: Buffer): Promise<void> {
  const data = await page.evaluateHandle(
    ({ name, base64 }) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name));
      return transfer;
    },
    { name, base64: bytes.toString("base64") },
  );
  await page.dispatchEvent("body", "dragover", { dataTransfer: data });
  await page.dispatchEvent("body", "drop", { dataTransfer: data });
}

test("the open motion-capture file is dropped, plays, simplifies and exports", async ({ page }) => {
  const errors = watchErrors(page);
  await openShelf(page);
  await drop(page, "cmu-01-01.bvh", await readFile(capture));
  await expect(page.locator(".crumbs b")).toHaveText("cmu-01-01");
  await expect(page.getByRole("textbox", { name: "Last frame" })).toHaveValue("2752");
  await expect(page.getByText("20 of 96 channels never change")).toBeVisible();

  await page.keyboard.press("Space");
  await expect.poll(async () => Number(await frameField(page).inputValue())).toBeGreaterThan(60);
  await page.keyboard.press("Space");

  await page.keyboard.press("s");
  await previewed(page);
  const [before, after] = await reportedKeys(page);
  expect(before).toBe(209172);
  expect(after).toBeLessThan(before * 0.2);
  await apply(page);
  // A file that takes its time says how far it is, can be stopped and begun anew, and the page goes on meanwhile.
  let write: () => void = () => undefined;
  const may = new Promise<void>((resolve) => {
    write = resolve;
  });
  await page.route(/writer\.worker/, (route) => may.then(() => route.continue()));
  await page.keyboard.press("e");
  const dialog = page.getByRole("dialog", { name: "Export" });
  await expect(dialog.getByRole("progressbar", { name: "Writing the file" })).toBeVisible();
  await dialog.getByRole("button", { name: "Stop" }).click();
  await expect(dialog.getByText("Stopped: nothing was written.")).toBeVisible();
  await expect(dialog.getByRole("button", { name: "Export", exact: true })).toBeDisabled();
  write();
  await dialog.getByRole("button", { name: "Try again" }).click();
  await expect(dialog.getByText(/What the file will hold/)).toBeVisible({ timeout: 60_000 });
  await dialog.getByRole("button", { name: "Close" }).last().click();
  const file = await exportAs(page, "glTF, one binary file");
  expect(file.subarray(0, 4).toString()).toBe("glTF");

  await backToShelf(page);
  await expect(page.getByRole("button", { name: "Open cmu-01-01" })).toBeVisible();
  expect(errors).toEqual([]);
});

test("an exported shot comes back by the import button, in every format that can be read", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  const files: [string, Buffer][] = [];
  for (const [title, name] of [
    ["glTF, text with data inside", "back.gltf"],
    ["Kneader shot", "back.json"],
    ["CSV table", "back.csv"],
  ])
    files.push([name, await exportAs(page, title)]);
  for (const [name, bytes] of files) {
    await backToShelf(page);
    await choose(page, name, bytes);
    await expect(page.locator(".crumbs b")).toHaveText(name === "back.json" ? "Hop aboard" : "back");
    await expect(page.getByRole("textbox", { name: "Last frame" })).toHaveValue("46");
  }
});

test.describe("bad files: a message that names the problem and its place, and nothing is lost", () => {
  const bvh = `HIERARCHY\nROOT Hips\n{\nOFFSET 0 0 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nEnd Site\n{\nOFFSET 0 1 0\n}\n}\nMOTION\nFrames: 2\nFrame Time: 0.04\n1 2 3\n4 5 6\n`;
  const gltf = (change: object) =>
    JSON.stringify({
      asset: { version: "2.0" },
      nodes: [{ name: "a", children: [1] }, { name: "b" }],
      animations: [{ channels: [{ sampler: 0, target: { node: 1, path: "rotation" } }], samplers: [{ input: 0, output: 1 }] }],
      accessors: [
        { bufferView: 0, componentType: 5126, count: 2, type: "SCALAR" },
        { bufferView: 0, componentType: 5126, count: 2, type: "VEC4" },
      ],
      bufferViews: [{ buffer: 0, byteLength: 32 }],
      buffers: [{ byteLength: 32, uri: `data:;base64,${Buffer.alloc(32).toString("base64")}` }],
      ...change,
    });
  const cases: [name: string, text: string | Buffer, message: RegExp][] = [
    ["cut.bvh", bvh.slice(0, 90), /cut\.bvh: Line \d+: the file ends/],
    ["short.bvh", bvh.replace("4 5 6", "4 5"), /Line 15: frame 2 has 2 numbers; this hierarchy needs 3/],
    ["nan.bvh", bvh.replace("4 5 6", "4 NaN 6"), /Line 15: frame 2, number 2 is "NaN"/],
    ["none.bvh", bvh.replace("Frames: 2", "Frames: 0"), /Line 12: the file says that it has 0 frames/],
    [
      "missing.gltf",
      gltf({ buffers: [{ byteLength: 32, uri: "motion.bin" }] }),
      /data of buffer 0 is missing \("motion\.bin" is another file\)/,
    ],
    [
      "circle.gltf",
      gltf({
        nodes: [
          { name: "a", children: [1] },
          { name: "b", children: [0] },
        ],
      }),
      /runs in a circle through node 0/,
    ],
    ["index.gltf", gltf({ nodes: [{ children: [9] }] }), /has the child 9, which does not exist/],
    [
      "type.gltf",
      gltf({
        accessors: [
          { bufferView: 0, componentType: 5126, count: 2, type: "VEC3" },
          { bufferView: 0, componentType: 5126, count: 2, type: "VEC4" },
        ],
      }),
      /accessor 0 is of type VEC3; SCALAR is needed/,
    ],
    ["newer.json", JSON.stringify({ format: "kneader-shot", version: 99, shot: {} }), /newer Kneader \(version 99/],
    ["empty.bvh", "", /is empty \(0 bytes\)/],
    ["picture.bvh", Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0]), /is a PNG picture, not a \.bvh file/],
    ["shot.abc", "x", /of a kind that is not known here.*\.bvh/],
  ];

  test("one after the other", async ({ page }) => {
    const errors = watchErrors(page);
    await openShelf(page);
    for (const [name, text, message] of cases) {
      await choose(page, name, Buffer.from(text as string));
      await expect(page.getByRole("alert")).toContainText(message);
      await expect(page.getByRole("alert")).toContainText(name);
    }
    await page.getByRole("alert").getByRole("button", { name: /close/i }).click();
    await expect(page.getByRole("alert")).toHaveCount(0);
    await expect(page.getByRole("region", { name: "Demo shots" }).getByRole("article")).toHaveCount(5);
    expect(errors).toEqual([]);
  });

  test("a 200 MB file is refused before it is read", async ({ page }) => {
    await openShelf(page);
    await page.evaluate(() => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([new Blob([new Uint8Array(200 * 1024 * 1024)])], "huge.bvh"));
      const input = document.querySelector<HTMLInputElement>("input[type=file]");
      if (!input) throw new Error("no file input");
      input.files = transfer.files;
      input.dispatchEvent(new Event("change", { bubbles: true }));
    });
    await expect(page.getByRole("alert")).toContainText("has 200 MB; up to 128 MB can be opened");
  });

  test("an action for a rig with no matching control", async ({ page }) => {
    await openShelf(page);
    await choose(page, "tiny.bvh", Buffer.from(bvh));
    await expect(page.locator(".crumbs b")).toHaveText("tiny");
    await page.getByText("Pantry", { exact: true }).click();
    await page.getByRole("button", { name: /Tail flick/ }).click();
    await expect(page.getByText("0 of 4")).toBeVisible();
    await page.getByRole("button", { name: "Lay it on tiny" }).click();
    await expect(card(page).getByRole("alert")).toContainText(/Nothing in "Tail flick" matches this rig: it moves .*Tail 1/);
  });

  test("an action file that is none", async ({ page }) => {
    await page.goto("/pantry");
    await page.getByLabel("Action file").setInputFiles({ name: "odd.json", mimeType: "application/json", buffer: Buffer.from("{}") });
    await expect(page.getByText(/odd\.json: This JSON is not a kneader action/)).toBeVisible();
  });
});
