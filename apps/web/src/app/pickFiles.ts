let take: ((files: File[]) => void) | null = null;

/** What becomes of files that are picked by a command. */
export function whenPicked(taker: (files: File[]) => void): void {
  take = taker;
}

/** Ask the system for files to open. */
export function pickFiles(): void {
  const input = document.createElement("input");
  input.type = "file";
  input.multiple = true;
  input.addEventListener("change", () => take?.([...(input.files ?? [])]));
  input.click();
}
