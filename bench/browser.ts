import type { Page } from "@playwright/test";
import {
  channelKey,
  checkSettings,
  curveFrom,
  formats,
  makePass,
  noContext,
  operationById,
  readShot,
  rotateChannels,
  runOperation,
  type Shot,
  WHOLE_FIGURE,
} from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { chromium as settings } from "../e2e/chromium.ts";
import { captureBytes } from "./capture.ts";
import { atMost, median, medianOf, type Row } from "./measure.ts";
import { dropToPlaying, scriptPerFrame, transferOf } from "./page.ts";
import { served } from "./served.ts";

/** Milliseconds from a key press on the rotation slider until the tray shows other curves: median of several. */
async function sliderToResult(page: Page): Promise<number> {
  await page.keyboard.press("s");
  const slider = page.getByRole("slider", { name: "Rotation within slider" });
  await page.getByRole("button", { name: /^Worst curve/ }).waitFor();
  await slider.focus();
  return medianOf(5, async () => {
    await page.waitForTimeout(1500);
    return page.evaluate(async () => {
      const canvas = document.querySelector<HTMLCanvasElement>(".curve-plot canvas");
      const handle = document.activeElement;
      if (!canvas || !handle) throw new Error("no tray, or no slider");
      const before = canvas.toDataURL();
      const start = performance.now();
      handle.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight", keyCode: 39, which: 39, bubbles: true } as KeyboardEventInit));
      let checked = 0;
      while (canvas.toDataURL() === before && performance.now() - start < 5000) {
        const at = performance.now();
        await new Promise((done) => requestAnimationFrame(done));
        checked += performance.now() - at;
      }
      return checked > 0 ? performance.now() - start : Number.POSITIVE_INFINITY;
    });
  });
}

/** Panning, zooming and dragging with the whole capture open; the page shows it already. */
async function trays(page: Page): Promise<Row[]> {
  const rows: Row[] = [];
  await page.keyboard.press("Space");
  const pan = async (name: string, limit: number) => {
    const box = await page.locator(".curve-plot canvas").boundingBox();
    if (!box) throw new Error("no tray");
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.wheel(0, -300);
    await page.waitForTimeout(500);
    const panned = await scriptPerFrame(page, 40, (n) => page.mouse.wheel(n % 20 < 10 ? 40 : -40, 0));
    rows.push(atMost(`Panning the ${name}, JavaScript a frame`, panned, limit));
    const zoomed = await scriptPerFrame(page, 40, (n) => page.mouse.wheel(0, n % 20 < 10 ? 60 : -60));
    rows.push(atMost(`Zooming the ${name}, JavaScript a frame`, zoomed, limit));
  };
  rows.push(atMost("From a moved simplify slider to its first result", await sliderToResult(page), 120));
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Hips", exact: true }).click();
  await page.keyboard.press("f");
  await pan("curve tray", 4);
  await page.keyboard.press("f");
  await page.waitForTimeout(300);
  const box = await page.locator(".curve-plot canvas").boundingBox();
  if (!box) throw new Error("no tray");
  await page.mouse.move(box.x + 4, box.y + 3);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.605, box.y + box.height - 3, { steps: 3 });
  await page.mouse.up();
  const picked = (await page.getByTestId("scope").textContent()) ?? "";
  await page.keyboard.press("d");
  await page.waitForTimeout(500);
  await pan("sheet tray", 4);
  await page.keyboard.press("f");
  await page.waitForTimeout(500);
  const line = await page.locator(".sheet-name.control.picked").boundingBox();
  const sheet = await page.locator(".curve-plot canvas").boundingBox();
  if (!line || !sheet) throw new Error("no line");
  await page.mouse.move(sheet.x + sheet.width / 2, line.y + 12);
  await page.mouse.down();
  const dragged = await scriptPerFrame(page, 80, (n) => page.mouse.move(sheet.x + sheet.width / 2 + 3 * ((n % 10) + 1), line.y + 12));
  await page.keyboard.press("Escape");
  await page.mouse.up();
  rows.push({ ...atMost("Dragging the picked keys in the sheet, JavaScript a frame", dragged, 10), note: picked.trim() });
  return rows;
}

/** Ten keyed passes on every rotation of the capture merged in the worker, keys on every frame, until the card can apply it. */
async function mergeInWorker(page: Page, origin: string): Promise<Row> {
  const { shot } = await readShot(captureBytes, "capture.bvh");
  const frames = Array.from({ length: 90 }, (_, i) => 1 + i * 30);
  const passes = Array.from({ length: 10 }, (_, n) => {
    const sway = curveFrom(frames.map((frame, i) => [frame, Math.sin(i + n) * 3]));
    const keys = shot.rig.controls.flatMap(({ id }) => rotateChannels.map((channel) => channelKey(id, channel)));
    return makePass(`sway-${n}`, `Sway ${n}`, "adds", Object.fromEntries(keys.map((key) => [key, sway])));
  });
  await page.goto(origin);
  await page.getByRole("heading", { name: "At the landing" }).waitFor();
  await page.dispatchEvent("body", "drop", { dataTransfer: await transferOf(page, "swaying.json", await jsonOf({ ...shot, passes })) });
  await page.getByRole("region", { name: "Rack" }).waitFor();
  await page.waitForTimeout(3000);
  await page.keyboard.press("b");
  const times: number[] = [];
  for (const keys of ["On every frame", "On the keys there are", "On every frame", "On the keys there are", "On every frame"]) {
    await page.getByRole("combobox", { name: "Keys" }).click();
    const start = performance.now();
    await page.getByTitle(keys, { exact: true }).last().click();
    await page.waitForTimeout(60);
    await page.waitForFunction(() => !document.querySelector<HTMLButtonElement>(".work-body footer button")?.disabled, null, {
      polling: 20,
    });
    if (keys === "On every frame") times.push(performance.now() - start);
  }
  await page.keyboard.press("Escape");
  return atMost("Merging 10 keyed passes over 2 752 frames, keys on every frame, in the browser's worker", median(times), 2000);
}

/** The tray that was chosen last is the one that is shown; what is measured here is the curves. */
async function showCurves(page: Page): Promise<void> {
  await page.getByRole("radiogroup", { name: "Detail" }).getByText("Curves", { exact: true }).click();
}

/** The weight of a pass dragged in its band, with a tail that follows above it, below it a lean: figure, curves and trays follow. */
async function passWeight(page: Page, origin: string): Promise<Row> {
  await page.goto(origin);
  await page.getByRole("heading", { name: "At the landing" }).waitFor();
  await page.getByRole("button", { name: "Open Waiting on board" }).click();
  await page.getByRole("region", { name: "Rack" }).waitFor();
  await showCurves(page);
  await page.waitForTimeout(2500);
  await page.keyboard.press("a");
  await page.getByRole("button", { name: "Chest", exact: true }).click();
  const lean = page.getByRole("textbox", { name: "Chest rotate X" });
  await lean.fill("9");
  await lean.press("Enter");
  await page.getByRole("button", { name: "Tail 1", exact: true }).click();
  await page.getByRole("button", { name: "Overlap", exact: true }).first().click();
  const apply = page.getByRole("button", { name: "Apply Enter" });
  await apply.waitFor();
  await page.waitForTimeout(1000);
  await apply.click();
  await page.waitForTimeout(1000);
  const band = await page.getByRole("group", { name: "Row of Pass 1" }).locator("svg.band").boundingBox();
  if (!band) throw new Error("no band");
  const [x, y] = [band.x + band.width / 2, band.y + band.height / 2];
  let spent = 0;
  // The first drags let the engine get to know the code.
  for (let round = 0; round < 3; round++) {
    await page.mouse.move(x, y);
    await page.mouse.down();
    spent = await scriptPerFrame(page, 60, (n) => page.mouse.move(x, y - 5 * ((n % 20) + 1)));
    await page.keyboard.press("Escape");
    await page.mouse.up();
    await page.waitForTimeout(500);
  }
  return {
    ...atMost("A weight dragged, with a tail that follows above it, JavaScript a frame", spent, 8),
    note: "figure, curves and pass tray redrawn",
  };
}

/** The demo's hop over and over with travel, as keys: two hundred poses. */
async function manyPoses(): Promise<Shot> {
  const made = await demoShots[1].make();
  const run = async (shot: Shot, id: string, settings: object) => {
    const operation = operationById(id);
    return (await runOperation(operation, shot, WHOLE_FIGURE, checkSettings(operation, settings), noContext)).shot;
  };
  return run(await run(made, "run-on", { kind: "travel", rounds: 21 }), "bake-loop", {});
}

async function jsonOf(shot: Shot): Promise<Uint8Array> {
  const format = formats.find(({ id }) => id === "json");
  if (!format) throw new Error("no format of our own");
  return (await format.write(shot)).bytes;
}

/** What the pose tray costs with two hundred poses: while panned, and while the shot plays, beyond the same figure with two. */
async function poseTray(page: Page, origin: string): Promise<Row[]> {
  const shot = await manyPoses();
  await page.goto(origin);
  await page.getByRole("heading", { name: "At the landing" }).waitFor();
  await page.waitForTimeout(2500);
  const playing = async () => {
    await page.keyboard.press("Space");
    await page.waitForTimeout(1500);
    const spent = await scriptPerFrame(page, 60, async () => undefined);
    await page.keyboard.press("Space");
    return spent;
  };
  await page.getByRole("button", { name: "Open Waiting on board" }).click();
  await page.getByRole("region", { name: "Rack" }).waitFor();
  await showCurves(page);
  await page.waitForTimeout(2500);
  const plain = await playing();
  await page.getByRole("link", { name: "Kneader, to the shelf of shots" }).click();
  await page.getByRole("heading", { name: "At the landing" }).waitFor();
  const dataTransfer = await transferOf(page, "poses.json", await jsonOf(shot));
  await page.dispatchEvent("body", "drop", { dataTransfer });
  await page.getByRole("region", { name: "Rack" }).waitFor();
  await page.waitForTimeout(3000);
  const count = (await page.locator(".pose-tray .gutter").textContent()) ?? "";
  const many = await playing();
  const box = await page.locator(".pose-plot").boundingBox();
  if (!box) throw new Error("no pose tray");
  await page.mouse.move(box.x + box.width / 2, box.y + 30);
  await page.mouse.wheel(0, -600);
  await page.waitForTimeout(800);
  const panned = await scriptPerFrame(page, 40, (n) => page.mouse.wheel(n % 20 < 10 ? 40 : -40, 0));
  return [
    {
      ...atMost("Playing with 200 poses, JavaScript a frame beyond the same figure with 2", Math.max(0, many - plain), 4),
      note: /\d+ key poses/.exec(count)?.[0] ?? "",
    },
    { ...atMost("Panning 200 poses and the curves below them, JavaScript a frame", panned, 8), note: "all trays together" },
  ];
}

export const benchBrowser = (): Promise<Row[]> =>
  served(async (browser, origin) => {
    const dropped = async () => {
      const context = await browser.newContext({ viewport: settings.viewport });
      const page = await context.newPage();
      return { page, took: await dropToPlaying(page, origin, "capture.bvh", captureBytes) };
    };
    const playing = await medianOf(3, async () => {
      const { page, took } = await dropped();
      await page.context().close();
      return took;
    });
    const first = atMost("From dropping the capture to a playing figure, headless Chromium", playing, 1500);
    const { page } = await dropped();
    const rows = [
      ...(await trays(page)),
      ...(await poseTray(page, origin)),
      await passWeight(page, origin),
      await mergeInWorker(page, origin),
    ];
    return [first, ...rows];
  });
