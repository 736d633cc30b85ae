import { expect, type Page, test } from "@playwright/test";
import { zipSync } from "fflate";
import { type CharacterKind, makeCharacter, takeApart } from "../packages/core/test/help/characters.ts";
import { backToShelf, card, exportAs, frameField, goToFrame, openDemo, openShelf, saved, scope, settled, watchErrors } from "./bench.ts";
import { graphicsOf, watchGraphics } from "./graphics.ts";

const heron = async (kind: CharacterKind = {}) =>
  Buffer.from(await makeCharacter({ influences: 4, seconds: 2, rings: 8, sides: 10, picture: true, ...kind }));

const give = (page: Page, name: string, bytes: Buffer) =>
  page.getByLabel("Shot file").setInputFiles({ name, mimeType: "application/octet-stream", buffer: bytes });

const question = (page: Page) => page.getByRole("dialog", { name: /^What to open of/ });
const characterNote = (page: Page) => page.locator(".character-note");

/** Open a character's file that needs no question. */
async function openCharacter(page: Page, bytes: Buffer, name = "heron.glb"): Promise<void> {
  await openShelf(page);
  await give(page, name, bytes);
  await expect(page.locator(".crumbs b")).toHaveText(/heron|otter/);
  await expect(characterNote(page)).toBeHidden();
}

/** The view as a picture, with nothing on it but the figure in its set. */
async function picture(page: Page): Promise<string> {
  await settled(page);
  const canvas = page.locator(".view-stage canvas");
  return canvas.evaluate((element) => {
    const copy = document.createElement("canvas");
    [copy.width, copy.height] = [320, 200];
    copy.getContext("2d")?.drawImage(element as HTMLCanvasElement, 0, 0, 320, 200);
    return copy.toDataURL("image/png");
  });
}

/** How far two pictures are apart: in the middle, of 255, and the share of spots that are clearly different. */
function difference(page: Page, one: string, other: string): Promise<{ mean: number; share: number }> {
  return page.evaluate(
    async ([a, b]) => {
      const pixels = async (address: string) => {
        const image = new Image();
        image.src = address;
        await image.decode();
        const copy = document.createElement("canvas");
        [copy.width, copy.height] = [image.width, image.height];
        const context = copy.getContext("2d") as CanvasRenderingContext2D;
        context.drawImage(image, 0, 0);
        return context.getImageData(0, 0, copy.width, copy.height).data;
      };
      const [p, q] = [await pixels(a), await pixels(b)];
      let sum = 0;
      let clear = 0;
      for (let i = 0; i < p.length; i += 4) {
        const d = (Math.abs(p[i] - q[i]) + Math.abs(p[i + 1] - q[i + 1]) + Math.abs(p[i + 2] - q[i + 2])) / 3;
        sum += d;
        if (d > 40) clear++;
      }
      return { mean: sum / (p.length / 4), share: clear / (p.length / 4) };
    },
    [one, other],
  );
}

test("the otter is exported with its mesh, and opened as a new file it looks the same", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hand over the lantern");
  // Ghosts and paths are none of it.
  for (const key of ["g", "p"]) await page.keyboard.press(key);
  const frames = [1, 30, 61];
  const before: string[] = [];
  for (const frame of frames) {
    await goToFrame(page, frame);
    before.push(await picture(page));
  }
  const file = await exportAs(page, "glTF, one binary file");
  const { json } = takeApart(file);
  expect((json.skins as unknown[]).length).toBeGreaterThan(0);
  await openCharacter(page, file, "otter.glb");
  for (const [n, frame] of frames.entries()) {
    await goToFrame(page, frame);
    const { mean, share } = await difference(page, before[n], await picture(page));
    expect(share).toBeLessThan(0.01);
    expect(mean).toBeLessThan(2);
  }
  // Two poses are not the same picture: the measure tells.
  expect((await difference(page, before[0], before[2])).share).toBeGreaterThan(0.01);
  expect(errors).toEqual([]);
});

test("a file with four animations asks what to open; shots share the character, which is kept once and goes back as it came", async ({
  page,
}) => {
  const errors = watchErrors(page);
  const file = await heron({ animations: 4, morphs: true, strange: true });
  await openShelf(page);
  await give(page, "heron.glb", file);
  await expect(question(page)).toBeVisible();
  for (const name of ["Wade", "Preen", "Start up", "Stand"]) await expect(question(page).getByRole("checkbox", { name })).toBeVisible();
  await question(page).getByRole("checkbox", { name: "All", exact: true }).check();
  await question(page).getByRole("button", { name: "Open 4 shots" }).click();
  await expect(page.getByText("4 shots are on the shelf.")).toBeVisible();
  await expect(page.getByText("shared with 3 more").first()).toBeVisible();
  const kept = await page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const request = indexedDB.open("kneader");
        request.onsuccess = () => {
          const count = request.result.transaction("assets").objectStore("assets").count();
          count.onsuccess = () => resolve(count.result);
        };
      }),
  );
  expect(kept).toBe(1);
  await page.getByRole("button", { name: "Open heron – Preen", exact: true }).click();
  await expect(page.locator(".crumbs b")).toHaveText("heron – Preen");
  await expect(characterNote(page)).toBeHidden();
  const back = await exportAs(page, "The file it came from");
  const [was, is] = [takeApart(file).json, takeApart(back).json];
  for (const part of ["meshes", "materials", "textures", "images", "skins", "extensions", "extras"]) expect(is[part]).toEqual(was[part]);
  expect((is.animations as { name: string }[]).map(({ name }) => name)).toEqual(["Wade", "Preen", "Start up", "Stand"]);
  expect((is.animations as unknown[])[0]).toEqual((was.animations as unknown[])[0]);
  // Two keys hand it back: what is proposed first is the file it came from.
  await page.keyboard.press("e");
  const dialog = page.getByRole("dialog", { name: "Export" });
  await expect(dialog.getByRole("button", { name: "Export", exact: true })).toBeEnabled();
  const [download] = await Promise.all([page.waitForEvent("download"), page.keyboard.press("Enter")]);
  expect(download.suggestedFilename()).toBe("heron – Preen.glb");
  await page.keyboard.press("Escape");
  // After a reload it is drawn from the browser's own copy.
  await page.reload();
  await expect(frameField(page)).toBeVisible();
  await expect(characterNote(page)).toBeHidden();
  expect(errors).toEqual([]);
});

test("animations become actions, or motion for the character on the bench", async ({ page }) => {
  const file = await heron({ animations: 2 });
  await openCharacter(page, await heron());
  await page.evaluate(
    ([base64]) => {
      const data = new DataTransfer();
      data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], "another.glb"));
      document.body.dispatchEvent(new DragEvent("drop", { dataTransfer: data, bubbles: true }));
    },
    [file.toString("base64")],
  );
  await question(page).getByRole("checkbox", { name: "Wade" }).uncheck();
  await question(page).getByRole("checkbox", { name: "Preen" }).check();
  await question(page)
    .getByRole("radio", { name: /^Motion for the character of "heron"/ })
    .check();
  await question(page).getByRole("button", { name: "Lay it on" }).click();
  await expect(card(page).getByRole("heading", { name: "Lay action" }).or(card(page).getByText("Preen").first())).toBeVisible();
  await page.keyboard.press("Escape");
  await page.getByText("Pantry", { exact: true }).click();
  await expect(page.getByRole("button", { name: /Preen/ }).first()).toBeVisible();
});

test("a click on the skin picks the control that moves it; looks and ghosts work for it", async ({ page }) => {
  await openCharacter(page, await heron());
  await page.getByText("Side", { exact: true }).click();
  // Half-way along, the heron stands in the middle.
  await goToFrame(page, 19);
  await settled(page);
  const box = await page.locator(".view-stage canvas").boundingBox();
  if (!box) throw new Error("no view");
  // Down the middle of the view until something is picked.
  for (let share = 0.3; share < 0.8; share += 0.05) {
    await page.mouse.click(box.x + box.width * 0.5, box.y + box.height * share);
    if (!/Whole figure/.test((await scope(page).textContent()) ?? "")) break;
  }
  await expect(scope(page)).not.toContainText("Whole figure");
  const lit = await picture(page);
  await page.keyboard.press("n");
  await page.keyboard.press("n");
  const { share } = await difference(page, lit, await picture(page));
  expect(share).toBeGreaterThan(0.002);
});

test("a character whose file is gone from this browser is said, its motion is all there, and the file handed over again brings it back", async ({
  page,
}) => {
  const file = await heron();
  await openCharacter(page, file);
  await saved(page);
  await page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        const request = indexedDB.open("kneader");
        request.onsuccess = () => {
          const change = request.result.transaction("assets", "readwrite");
          change.objectStore("assets").clear();
          change.oncomplete = () => resolve();
        };
      }),
  );
  await page.reload();
  await expect(characterNote(page)).toContainText("no longer in this browser");
  await page.keyboard.press("Space");
  await expect.poll(async () => Number(await frameField(page).inputValue())).toBeGreaterThan(3);
  await page.keyboard.press("Space");
  await page.keyboard.press("e");
  const dialog = page.getByRole("dialog", { name: "Export" });
  await expect(dialog.getByText("The file this character came from is not here.")).toBeVisible();
  await page.keyboard.press("Escape");
  await openCharacter(page, file);
  await page.goBack();
  await page.goto("/");
  await page.getByRole("button", { name: "Open heron", exact: true }).last().click();
  await expect(frameField(page)).toBeVisible();
  await expect(characterNote(page)).toBeHidden();
});

test("where storage is full the character is seen all the same, and it is said that it is not kept", async ({ page }) => {
  await openShelf(page);
  await page.evaluate(() => {
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = function (...given: Parameters<typeof put>) {
      if (this.name === "assets") throw new DOMException("The quota has been exceeded.", "QuotaExceededError");
      return put.apply(this, given);
    };
  });
  await give(page, "heron.glb", await heron());
  await expect(page.getByText(/The character's file could not be kept: This browser's storage is full/)).toBeVisible();
  await expect(characterNote(page)).toBeHidden();
});

/** The same character as text, its data named by an address. */
function asText(glb: Buffer, uri: (data: Buffer) => string): { text: Buffer; data: Buffer } {
  const { json, data } = takeApart(glb);
  const bytes = Buffer.from(data);
  return { text: Buffer.from(JSON.stringify({ ...json, buffers: [{ byteLength: bytes.length, uri: uri(bytes) }] })), data: bytes };
}

test("a character as text is drawn, its data inside, beside, and in a zip beside another's of the same name", async ({ page }) => {
  const errors = watchErrors(page);
  const bytes = await heron();
  const inside = asText(bytes, (data) => `data:application/octet-stream;base64,${data.toString("base64")}`);
  await openCharacter(page, inside.text, "heron.gltf");
  const shown = await picture(page);
  await goToFrame(page, 30);
  const later = await picture(page);
  expect((await difference(page, shown, later)).mean).toBeGreaterThan(0.2);

  const looksAlike = async () => {
    await goToFrame(page, 30);
    await expect(characterNote(page)).toBeHidden();
    expect((await difference(page, later, await picture(page))).mean).toBeLessThan(0.05);
  };
  const beside = asText(bytes, () => "body.bin");
  await openShelf(page);
  const octets = "application/octet-stream";
  await page.getByLabel("Shot file").setInputFiles([
    { name: "heron.gltf", mimeType: octets, buffer: beside.text },
    { name: "body.bin", mimeType: octets, buffer: beside.data },
  ]);
  await expect(page.locator(".crumbs b")).toHaveText("heron");
  await looksAlike();

  // Of two characters in two folders each has its own data.
  const other = asText(await heron({ picture: false, rings: 4, tail: 9 }), () => "body.bin");
  const packed = zipSync({
    "heron/heron.gltf": new Uint8Array(beside.text),
    "heron/body.bin": new Uint8Array(beside.data),
    "egret/egret.gltf": new Uint8Array(other.text),
    "egret/body.bin": new Uint8Array(other.data),
  });
  await openShelf(page);
  await page.getByLabel("Shot file").setInputFiles({ name: "two.zip", mimeType: "application/zip", buffer: Buffer.from(packed) });
  // The one that was there before is on the shelf already: both must have come.
  await expect(page.getByRole("button", { name: "Open egret", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Open heron", exact: true }).first().click();
  await expect(page.locator(".crumbs b")).toHaveText("heron");
  await looksAlike();
  await backToShelf(page);
  await page.getByRole("button", { name: "Open egret", exact: true }).click();
  await expect(page.locator(".crumbs b")).toHaveText("egret");
  await expect(characterNote(page)).toBeHidden();
  expect(errors).toEqual([]);
});

test("packed characters open: Draco, meshopt and quantised numbers", async ({ page }) => {
  const errors = watchErrors(page);
  for (const packed of ["draco", "meshopt", "quantised"] as const) {
    await openCharacter(page, await heron({ packed, picture: false }));
    const shown = await picture(page);
    await goToFrame(page, 30);
    expect((await difference(page, shown, await picture(page))).mean).toBeGreaterThan(0.2);
  }
  expect(errors).toEqual([]);
});

test("what a character holds on the graphics card comes back when its shot is closed", async ({ page }) => {
  await watchGraphics(page);
  const file = await heron({ morphs: true });
  await openCharacter(page, file);
  const rounds: Awaited<ReturnType<typeof graphicsOf>>[] = [];
  for (let round = 0; round < 3; round++) {
    await page.getByText("Free", { exact: true }).click();
    await goToFrame(page, 5 + round);
    await picture(page);
    await backToShelf(page);
    await settled(page);
    rounds.push(await graphicsOf(page));
    await page.getByRole("button", { name: "Open heron", exact: true }).click();
    await expect(frameField(page)).toBeVisible();
    await expect(characterNote(page)).toBeHidden();
  }
  // The first round opens what stays: the renderer of small pictures, its programs.
  const [, before, after] = rounds;
  expect(after.buffers - before.buffers).toBeLessThan(4);
  expect(after.arrays - before.arrays).toBeLessThan(4);
  // A view's renderer opens four empty textures of its own, which go with its context.
  expect(after.textures - before.textures).toBeLessThan(5);
});
