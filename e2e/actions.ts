import type { Locator, Page } from "@playwright/test";
import { previewed } from "./bench.ts";

/** What a person does, counted: a click, a key, a drag and a typed field are one action each. */
export class Actions {
  count = 0;
  private readonly page: Page;

  constructor(page: Page) {
    this.page = page;
  }

  async press(...keys: string[]): Promise<void> {
    for (const key of keys) {
      await this.page.keyboard.press(key);
      this.count++;
    }
  }

  async click(target: Locator, modifier?: "Shift"): Promise<void> {
    await target.click(modifier ? { modifiers: [modifier] } : {});
    this.count++;
  }

  /** Type into the field that has the focus, or is about to get it. */
  async type(text: string): Promise<void> {
    await this.page.waitForFunction(() => document.activeElement?.matches("input, textarea, [contenteditable=true]"));
    await this.page.keyboard.insertText(text);
    this.count++;
  }

  /** Put a value into a field and leave it with Enter: one typed field. */
  async fill(field: Locator, text: string): Promise<void> {
    await field.fill(text);
    await field.press("Enter");
    this.count++;
  }

  /** Enter takes the card's result over. */
  async apply(): Promise<void> {
    await previewed(this.page);
    await this.press("Enter");
    await this.page.getByRole("heading", { name: "Rework" }).waitFor();
  }
}
