import { expect, type Page, test } from "@playwright/test";
import { apply, card, command, drag, openDemo, previewed, saved, scope, setNumber, shotOf, watchErrors } from "./bench.ts";

/** Cleaning curves by hand: the box, numbers, locks, sets, two trays, the drift. */

const tray = (page: Page) => page.locator(".curve-plot canvas").first();
const button = (page: Page, name: string) => page.getByRole("button", { name, exact: true });

async function place(page: Page) {
  const box = await tray(page).boundingBox();
  if (!box) throw new Error("no tray");
  return box;
}

/** Box every key the curve tray shows. */
async function pickAllShown(page: Page): Promise<void> {
  const box = await place(page);
  await drag(page, [box.x + 3, box.y + 3], [box.x + box.width - 12, box.y + box.height - 3]);
}

test("a control that is picked low in the list is shown with its channels", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  for (const name of ["Tail 2", "Hips"]) {
    await button(page, name).click();
    for (const axis of ["X", "Y", "Z"])
      await expect(page.getByRole("textbox", { name: `${name} rotate ${axis}`, exact: true })).toBeInViewport({ ratio: 1 });
  }
});

test("picked keys are scaled by typed numbers and by the box, moved by middle drag, held to time or value", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  await button(page, "Tail 2").click();
  await pickAllShown(page);
  await expect(scope(page)).toContainText("30 keys on 3 curves");
  const times = (shot: Awaited<ReturnType<typeof shotOf>>) => shot.base["tail-2.rotateX"].times;
  const before = await shotOf(page);

  const last = page.getByRole("textbox", { name: "Last frame of the picked keys" });
  await expect(last).toHaveValue("46");
  await last.fill("+45");
  await last.press("Enter");
  expect(times(await shotOf(page))).toEqual([1, 11, 21, 31, 41, 51, 61, 71, 81, 91]);
  await expect(scope(page)).toContainText("30 keys on 3 curves");
  await page.keyboard.press("Control+z");
  expect(await shotOf(page)).toEqual(before);

  // Keys keep their values: a middle drag from anywhere moves them in time only.
  await pickAllShown(page);
  await button(page, "Keep value while dragging").click();
  const box = await place(page);
  await drag(
    page,
    [box.x + 40, box.y + 60],
    [box.x + 80, box.y + 130],
    async () => {
      await expect(page.getByText("Let go to keep it")).toBeVisible();
      await expect(scope(page)).toContainText("30 keys on 3 curves");
    },
    "middle",
  );
  const moved = await shotOf(page);
  expect(moved.base["tail-2.rotateX"].values).toEqual(before.base["tail-2.rotateX"].values);
  const shift = times(moved)[0] - 1;
  expect(shift).toBeGreaterThan(0);
  expect(times(moved)).toEqual(times(before).map((time) => time + shift));
  await button(page, "Keep value while dragging").click();
  await page.keyboard.press("Control+z");

  // The upper side of the box scales values about the lower one.
  await pickAllShown(page);
  const high = page.getByRole("textbox", { name: "Highest value of the picked keys" });
  const [low, top] = [
    Number(await page.getByRole("textbox", { name: "Lowest value of the picked keys" }).inputValue()),
    Number(await high.inputValue()),
  ];
  await high.fill(String(low + (top - low) / 2));
  await high.press("Enter");
  const squeezed = (await shotOf(page)).base["tail-2.rotateX"].values;
  before.base["tail-2.rotateX"].values.forEach((value, i) => {
    expect(squeezed[i]).toBeCloseTo(low + (value - low) / 2, 1);
  });
  expect(errors).toEqual([]);
});

test("a side of the box is dragged with a live preview, and Esc gives up", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await button(page, "Tail 2").click();
  await pickAllShown(page);
  const before = await shotOf(page);
  const box = await place(page);
  // The right side stands twelve pixels after the last key; find it by the pointer's shape.
  let side: [number, number] | null = null;
  for (let x = box.x + box.width - 2; x > box.x + box.width / 2 && !side; x -= 3) {
    await page.mouse.move(x, box.y + box.height * 0.4);
    const cursor = await tray(page).evaluate((element) => getComputedStyle(element).cursor);
    if (cursor === "ew-resize") side = [x, box.y + box.height * 0.4];
  }
  if (!side) throw new Error("the box has no right side");
  await drag(page, side, [side[0] - 120, side[1]], async () => {
    await expect(page.getByText("Let go to keep it")).toBeVisible();
    await page.keyboard.press("Escape");
  });
  expect(await shotOf(page)).toEqual(before);
  await drag(page, side, [side[0] - 120, side[1]]);
  const { times, values } = (await shotOf(page)).base["tail-2.rotateX"];
  expect(times[0]).toBe(1);
  expect(times.at(-1)).toBeLessThan(46);
  expect(times.every(Number.isInteger)).toBe(true);
  expect(values).toEqual(before.base["tail-2.rotateX"].values);
});

test("channels are locked, left alone and said so; hidden, isolated, kept as a set that outlives a reload", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Captured signal");
  await button(page, "Head").click();
  await page.keyboard.press("q");
  await expect(scope(page)).toContainText("Head · 0 curves, 3 locked");
  await command(page, "simplify");
  await expect(card(page).getByRole("alert")).toContainText("Head rotate X and 2 more are locked");
  await page.keyboard.press("w");
  await previewed(page);
  await expect(card(page).getByText("Head rotate X and 2 more are locked and left alone.")).toBeVisible();
  await apply(page);
  const shot = await shotOf(page);
  expect(shot.locked).toEqual(["head.rotateX", "head.rotateY", "head.rotateZ"]);
  expect(shot.base["head.rotateX"].times).toHaveLength(120);
  expect(shot.base["neck.rotateX"].times.length).toBeLessThan(60);

  await button(page, "Neck").click();
  await page.keyboard.press("i");
  await expect(page.getByRole("img", { name: /^Curves of Neck rotate X, Neck rotate Y, Neck rotate Z\./ })).toBeVisible();
  await button(page, "Hide Neck rotate Y").click();
  await expect(page.getByRole("img", { name: /^Curves of Neck rotate X, Neck rotate Z\./ })).toBeVisible();
  await button(page, "What is listed").click();
  await page.getByRole("menuitem", { name: "Keep the picked as a set …" }).click();
  await page.getByRole("textbox", { name: "Name of the set" }).fill("Neck turns");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("dialog")).toBeHidden();
  await saved(page);

  await page.reload();
  await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();
  await button(page, "What is listed").click();
  await page.getByRole("menuitem", { name: "Neck turns · 3" }).click();
  await expect(scope(page)).toContainText("Neck · 3 curves");
  await button(page, "What is listed").click();
  await page.getByRole("menuitem", { name: "Unlock all" }).click();
  expect((await shotOf(page)).locked).toEqual([]);
  await button(page, "What is listed").click();
  await page.getByRole("menuitem", { name: "Only picked controls" }).click();
  await expect(button(page, "Hips")).toHaveCount(0);
  expect(errors).toEqual([]);
});

test("curves and sheet stand open together on one filter; the drift is charted and leads to its worst frame", async ({ page }) => {
  await openDemo(page, "Captured signal");
  await page.keyboard.press("Shift+d");
  await expect(page.getByRole("region", { name: "Curves" })).toBeVisible();
  const sheet = page.getByRole("region", { name: "Sheet" });
  await expect(sheet).toBeVisible();
  await sheet.getByRole("textbox", { name: "Filter channels" }).fill("tail 2");
  await expect(page.getByRole("region", { name: "Curves" }).getByRole("textbox", { name: "Filter channels" })).toHaveValue("tail 2");
  await sheet.getByRole("button", { name: "Tail 2", exact: true }).click();
  await expect(page.getByRole("img", { name: /^Curves of Tail 2 rotate X/ })).toBeVisible();
  await page.keyboard.press("w");

  await expect(page.getByRole("region", { name: "Drift" })).toHaveCount(0);
  await page.keyboard.press("s");
  await previewed(page);
  const drift = page.getByRole("region", { name: "Drift" });
  const chart = drift.getByRole("img", { name: /^Drift over time, at most 0\.\d+° at frame \d+$/ });
  const frame = /frame (\d+)$/.exec((await chart.getAttribute("aria-label")) ?? "")?.[1] as string;
  await drift.getByRole("button").click();
  await expect(page.getByRole("textbox", { name: "Frame", exact: true })).toHaveValue(frame);
  await drift.getByText("Place", { exact: true }).click();
  await expect(drift.getByRole("img", { name: /at most [\d.]+ mm/ })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(drift).toHaveCount(0);
});

test("in space, blocking to curves, and work on handles run from the card", async ({ page }) => {
  await openDemo(page, "Captured signal");
  await page.keyboard.press("s");
  await previewed(page);
  await expect(card(page).getByRole("textbox", { name: "Ends within" })).toHaveCount(0);
  await card(page).getByRole("combobox", { name: "Tolerance on" }).click();
  await page.getByTitle("Hands, feet, head, tail in space").click();
  await setNumber(page, "Ends within", "6");
  await expect(card(page).getByText(/stay within [3-6]\.\d mm\.$/)).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press("Escape");

  await page.goto("/shots/demo-hop-aboard");
  await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();
  await command(page, "stepped or curves");
  await previewed(page);
  await expect(card(page).getByText(/^Without keys: /)).toBeVisible();
  await apply(page);
  expect((await shotOf(page)).base["tail-2.rotateX"].kindOut).toBe("auto");
  await button(page, "Tail 2").click();
  await page.keyboard.press("t");
  await card(page).getByRole("combobox", { name: "Handles" }).click();
  await page.getByTitle("Break the two sides").click();
  await previewed(page);
  await apply(page);
  expect((await shotOf(page)).base["tail-2.rotateX"].kindOut).toBe("free");
});

test("in the sheet a drag with Alt takes later keys along, one with Ctrl leaves a copy", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  const before = (await shotOf(page)).base["tail-2.rotateX"].times;
  await page.keyboard.press("d");
  await page.getByRole("textbox", { name: "Filter channels" }).fill("tail 2");
  const sheet = await place(page);
  const gap = await page.getByRole("textbox", { name: "Gap from frame 11 to 16" }).boundingBox();
  if (!gap) throw new Error("no gap");
  const frame = (gap.width + 8) / 5;
  const key: [number, number] = [gap.x - 4, sheet.y + 34 + 36];
  const carry = async (modifier: "Alt" | "Control") => {
    await page.mouse.click(...key);
    await page.keyboard.down(modifier);
    await drag(page, key, [key[0] + 3 * frame, key[1]]);
    await page.keyboard.up(modifier);
    const { times } = (await shotOf(page)).base["tail-2.rotateX"];
    await page.keyboard.press("Control+z");
    return times;
  };
  expect(await carry("Alt")).toEqual(before.map((time) => (time < 11 ? time : time + 3)));
  expect(await carry("Control")).toEqual([...before, 14].sort((a, b) => a - b));
  expect((await shotOf(page)).base["tail-2.rotateX"].times).toEqual(before);
});

test("the timing list: all gaps and a hold typed at once, nonsense refused with its word, the hold hatched", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("Shift+g");
  const list = card(page).getByRole("textbox", { name: "Gaps" });
  await expect(list).toHaveValue("5 5 5 5 5 5 5 5 5");
  await list.fill("6 4 abc");
  await expect(card(page).getByRole("alert")).toContainText('"abc" is no number of frames');
  await list.fill("6 4 3 2 3 · hold 8 · 4");
  await expect(page.getByTitle(/^Hold of 8 frames from 19 to 27/)).toBeVisible();
  await apply(page);
  expect((await shotOf(page)).base["tail-2.rotateX"].times).toEqual([1, 7, 11, 14, 16, 19, 27, 31, 36, 41, 46]);
  await page.keyboard.press("Shift+g");
  await expect(list).toHaveValue("6 4 3 2 3 · hold 8 · 4 5 5 5");
});
