import { catalogue, listed, missingFor, operationById } from "@kneader/core";
import { useDialogs } from "../dialogs.ts";
import { situation, useWork } from "../work/workStore.ts";
import type { Command } from "./command.ts";

/** What an operation needs and does not find where the user stands: "It needs copied keys." */
export function missingForOperation(id: string): string | null {
  const at = situation();
  const missing = at ? missingFor(operationById(id), at) : [];
  return missing.length > 0 ? `It needs ${listed(missing)}.` : null;
}

/** The page of help of every operation. */
export const guideCommands: readonly Command[] = catalogue.map(
  ({ id, title, words, help }): Command => ({
    id: `guide-${id}`,
    title: `About: ${title}`,
    words: `help what is explain guide how ${words}`,
    help,
    aside: true,
    run: () => useDialogs.getState().showGuide(id),
  }),
);

/** Every operation, as a command that opens its card. */
export const offeredCommands: readonly Command[] = catalogue.map(
  ({ id, title, words, group, help }): Command => ({
    id,
    title,
    words: `${words} ${group}`,
    help,
    missing: () => missingForOperation(id),
    run: () => useWork.getState().open(id),
  }),
);
