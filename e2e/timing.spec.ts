import { expect, type Page, test } from "@playwright/test";
import { apply, card, command, drag, goToFrame, openDemo, previewed, setNumber, shotOf, watchErrors } from "./bench.ts";

const chips = (page: Page) => page.locator("input.gap");
const gaps = (page: Page) => chips(page).evaluateAll((list) => list.map((chip) => Number((chip as HTMLInputElement).value)));
const notice = (page: Page, text: RegExp) => expect(page.locator(".ant-message-notice").filter({ hasText: text }).first()).toBeVisible();

/** The shot's own file, with what the shared helper does not list. */
const whole = async (page: Page) =>
  (await shotOf(page)) as unknown as {
    base: Record<string, { times: number[]; values: number[]; kindOut: string | string[] }>;
    passes: {
      kind: string;
      on: boolean;
      settings: Record<string, unknown>;
      curves: Record<string, { times: number[]; values: number[] }>;
    }[];
    range: { start: number; end: number };
    cyclic: boolean;
  };

test("gaps are picked several at once and typed; poses are dragged, swapped, named, removed; holds live on the chip", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  await expect.poll(() => gaps(page)).toEqual([5, 5, 5, 5, 5, 5, 5, 5, 5]);

  await test.step("three gaps at once", async () => {
    await chips(page)
      .nth(1)
      .click({ modifiers: ["Shift"] });
    await chips(page)
      .nth(3)
      .click({ modifiers: ["Shift"] });
    await chips(page).nth(2).fill("4 3 2");
    await chips(page).nth(2).press("Enter");
    await expect.poll(() => gaps(page)).toEqual([5, 4, 3, 2, 5, 5, 5, 5, 5]);
    await chips(page).nth(1).focus();
    await page.keyboard.press("+");
    await expect.poll(() => gaps(page)).toEqual([5, 5, 4, 3, 5, 5, 5, 5, 5]);
    await page.keyboard.press("Control+z");
    await page.keyboard.press("Control+z");
    await expect.poll(() => gaps(page)).toEqual([5, 5, 5, 5, 5, 5, 5, 5, 5]);
    await page.keyboard.press("Escape");
  });

  await test.step("what is no gap is refused, and a ripple past the end says so", async () => {
    for (const [text, said] of [
      ["-3", /"-3" is not/],
      ["1e9", /"1e9" is not/],
      ["abc", /"abc" is not/],
    ] as const) {
      await chips(page).nth(0).fill(text);
      await chips(page).nth(0).press("Enter");
      await notice(page, said);
    }
    await chips(page).nth(0).fill("30");
    await chips(page).nth(0).press("Enter");
    await notice(page, /The shot now ends at frame 71/);
    await page.keyboard.press("Control+z");
    await expect.poll(() => gaps(page)).toEqual([5, 5, 5, 5, 5, 5, 5, 5, 5]);
  });

  await test.step("a hold is made, lengthened and removed on the chip", async () => {
    await chips(page).nth(2).fill("hold 8");
    await chips(page).nth(2).press("Enter");
    await expect.poll(async () => (await gaps(page)).slice(0, 8)).toEqual([5, 5, 8, 5, 5, 5, 5, 5]);
    await expect(chips(page).nth(2)).toHaveClass(/hold/);
    await chips(page).nth(2).fill("12");
    await chips(page).nth(2).press("Enter");
    await expect.poll(async () => (await gaps(page)).slice(0, 7)).toEqual([5, 5, 12, 5, 5, 5, 5]);
    await chips(page).nth(2).fill("0");
    await chips(page).nth(2).press("Enter");
    await expect.poll(() => gaps(page)).toEqual([5, 5, 5, 5, 5, 5, 5, 5, 5]);
  });

  await test.step("a pose is dragged between its neighbours with a live preview, and with Shift takes the later ones along", async () => {
    const box = await page.locator('[data-pose="16"]').boundingBox();
    const axis = await page.locator(".pose-plot").boundingBox();
    if (!box || !axis) throw new Error("no pose");
    const next = await page.locator('[data-pose="21"]').boundingBox();
    const frame = ((next?.x ?? 0) - box.x) / 5;
    const [x, y] = [box.x + box.width / 2, box.y + 20];
    await drag(page, [x, y], [x + 2 * frame, y], async () => {
      await expect.poll(() => gaps(page)).toEqual([5, 5, 7, 3, 5, 5, 5, 5, 5]);
    });
    await expect.poll(() => gaps(page)).toEqual([5, 5, 7, 3, 5, 5, 5, 5, 5]);
    await page.keyboard.press("Control+z");
    await page.keyboard.down("Shift");
    await drag(page, [x, y], [x + 2 * frame, y]);
    await page.keyboard.up("Shift");
    await expect.poll(() => gaps(page)).toEqual([5, 5, 7, 5, 5, 5, 5, 5, 5]);
    await page.keyboard.press("Control+z");
  });

  await test.step("names, swaps and removes by the menu", async () => {
    await page.locator('[data-pose="11"]').click({ button: "right" });
    await page.getByRole("menuitem", { name: "Name and colour" }).click();
    await page.getByRole("textbox", { name: "Name of the pose" }).fill("Crouch");
    await page.keyboard.press("Enter");
    await expect(page.getByRole("button", { name: "Pose at frame 11, Crouch" })).toBeVisible();
    await page.locator('[data-pose="11"]').click({ button: "right" });
    await page.getByRole("menuitem", { name: "Swap with the next pose" }).click();
    await expect(page.getByRole("button", { name: "Pose at frame 16, Crouch" })).toBeVisible();
    await page.locator('[data-pose="21"]').click({ modifiers: ["Shift"] });
    await page.locator('[data-pose="26"]').click({ modifiers: ["Shift"] });
    await page.keyboard.press("Delete");
    await expect.poll(() => gaps(page)).toEqual([5, 5, 5, 15, 5, 5, 5]);
  });
  expect(errors).toEqual([]);
});

test("on twos and off again the document is the same; a warp is shaped in the curve tray, pinned, refused backward, and baked", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openDemo(page, "Waiting on board");
  const before = await whole(page);

  await test.step("stepping rides along with the camera, goes off, on and away", async () => {
    await page.getByRole("button", { name: "Add a pass" }).click();
    await page.getByRole("menuitem", { name: "Stepping" }).click();
    await card(page).getByRole("textbox", { name: "Pattern" }).fill("2 x");
    await expect(card(page).getByRole("alert")).toContainText('"x" is not a number of frames');
    await card(page).getByRole("textbox", { name: "Pattern" }).fill("2 2 3");
    await card(page).getByRole("switch", { name: "Ride with the camera" }).click();
    await apply(page);
    const on = await whole(page);
    expect(on.base).toEqual(before.base);
    expect(on.passes[0].settings).toMatchObject({ pattern: [2, 2, 3], rides: { control: "ferryman", camera: "shot-camera" } });
    // Its own channel is listed and keyed like any other.
    await goToFrame(page, 30);
    await page.getByRole("textbox", { name: "Stepping rides along" }).fill("0");
    await page.keyboard.press("Enter");
    await page.getByRole("button", { name: "Stepping on" }).click();
    await page.getByRole("button", { name: "Stepping on" }).click();
    const again = await whole(page);
    expect(again.passes[0].curves["Stepping.rides"].times).toEqual([1, 30]);
    expect({ ...again, passes: [] }).toEqual({ ...on, passes: [] });
    await page.getByRole("button", { name: "Settings of Stepping" }).click();
    await expect(card(page).getByRole("textbox", { name: "Pattern" })).toHaveValue("2 2 3");
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "Remove Stepping" }).click({ force: true });
    expect(await whole(page)).toEqual(before);
  });

  await test.step("a warp", async () => {
    await command(page, "time-warp");
    await setNumber(page, "Slow at the start", "80");
    await previewed(page);
    await apply(page);
    await goToFrame(page, 37);
    const field = page.getByRole("textbox", { name: "Warp frame" });
    await field.fill("30");
    await field.press("Enter");
    const warp = (await whole(page)).passes[0].curves["Warp.frame"];
    expect(warp.times).toEqual([1, 37, 73]);
    // Backward is refused, and the curve stays.
    await goToFrame(page, 50);
    await field.fill("20");
    await field.press("Enter");
    await notice(page, /Warp would run backward between frames/);
    // The ends are pinned.
    await goToFrame(page, 73);
    await field.fill("60");
    await field.press("Enter");
    expect((await whole(page)).passes[0].curves["Warp.frame"]).toEqual(warp);
    await page.keyboard.press("b");
    await previewed(page);
    await apply(page);
    const baked = await whole(page);
    expect(baked.passes).toEqual([]);
    expect(baked.base).not.toEqual(before.base);
  });
  expect(errors).toEqual([]);
});

test("keys go through the clipboard: a half walk is completed by its mirror, closed, repeated and drawn as ghosts", async ({
  page,
  context,
}) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  const errors = watchErrors(page);
  await openDemo(page, "Half a walk");

  await test.step("copy all, paste mirrored at the end, carrying on", async () => {
    await page.locator(".curve-plot canvas").focus();
    await goToFrame(page, 1);
    await page.locator(".curve-plot canvas").focus();
    await page.keyboard.press("Control+c");
    await notice(page, /Copied \d+ keys on \d+ curves/);
    expect(await page.evaluate(() => navigator.clipboard.readText())).toContain('"kneader-keys"');
    await goToFrame(page, 13);
    await page.locator(".curve-plot canvas").focus();
    await page.keyboard.press("Control+v");
    await expect(card(page).getByRole("heading", { name: /Paste keys/ })).toBeVisible();
    await setNumber(page, "Starts at frame", "13");
    await card(page).getByRole("combobox", { name: "Existing keys" }).click();
    await page.getByTitle("Kept, but not at the same frames").click();
    await card(page).getByRole("switch", { name: "Mirrored" }).click();
    await previewed(page);
    await expect(card(page)).toContainText("Carries on: Ferryman move X");
    await apply(page);
    expect((await whole(page)).range.end).toBe(25);
  });

  await test.step("closed, it is a cycle; repeated, its rounds are ghosts", async () => {
    await command(page, "close the cycle");
    await previewed(page);
    await apply(page);
    await expect(page.getByRole("button", { name: "Cycle", exact: true })).toHaveAttribute("aria-pressed", "true");
    await page.keyboard.press("l");
    await card(page).getByRole("combobox", { name: "What it does" }).click();
    await page.getByTitle("Repeat and travel").last().click();
    await setNumber(page, "Extra rounds", "4");
    await previewed(page);
    await apply(page);
    const walk = await whole(page);
    expect([walk.range.end, walk.cyclic]).toEqual([121, true]);
    await page.keyboard.press("f");
    await expect(page.locator(".pose.ghost").first()).toBeVisible();
  });

  await test.step("text that is not keys, and locked channels, are refused with what they are", async () => {
    await page.evaluate(() => navigator.clipboard.writeText("A letter from the landing"));
    await page.locator(".curve-plot canvas").focus();
    await page.keyboard.press("Control+v");
    await notice(page, /What was copied is not keys: it begins with "A letter from the landing"/);
    await page.getByRole("button", { name: "Head", exact: true }).click();
    await page.locator(".curve-plot canvas").focus();
    await page.keyboard.press("Control+c");
    await notice(page, /Copied \d+ keys on 3 curves/);
    await page.keyboard.press("q");
    await page.locator(".curve-plot canvas").focus();
    await page.keyboard.press("Control+v");
    await expect(card(page).getByRole("alert")).toContainText("locked");
    await page.keyboard.press("Escape");
  });

  await test.step("cut keys are gone, and come back where they are pasted", async () => {
    await page.keyboard.press("q");
    await goToFrame(page, 1);
    await page.keyboard.press("h");
    await page.locator(".curve-plot canvas").focus();
    const count = (await whole(page)).base["head.rotateX"].times.length;
    await page.locator(".curve-plot canvas").focus();
    await page.keyboard.press("Control+x");
    await notice(page, /Cut 3 keys on 3 curves/);
    expect((await whole(page)).base["head.rotateX"].times).toHaveLength(count - 1);
    await page.locator(".curve-plot canvas").focus();
    await page.keyboard.press("Control+v");
    await apply(page);
    expect((await whole(page)).base["head.rotateX"].times).toHaveLength(count);
  });
  expect(errors).toEqual([]);
});
