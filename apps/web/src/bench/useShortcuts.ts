import { sayError } from "@kneader/core";
import { useEffect } from "react";
import { tell, useNotices } from "./notices.ts";
import { useDialogs } from "./dialogs.ts";
import { usePointerHeld } from "./followPointer.ts";
import { belongsToButton, isCardsEnter, isTyped, somethingIsOpen } from "./keyOwner.ts";
import { useSelection } from "./selection.ts";
import { useCommandKeys } from "./useCommandKeys.ts";
import { useWork } from "./work/workStore.ts";
import { applyWork } from "./work/apply.ts";

/** Give up the nearest thing there is to give up: what is tried, the picked keys, all that is picked. */
function stepBack(): void {
  if (useWork.getState().operation) useWork.getState().close();
  else if (Object.keys(useSelection.getState().keys).length > 0) useSelection.getState().pickKeys({});
  else useSelection.getState().clear();
}

const stops = "input:not(:disabled), textarea:not(:disabled), button:not(:disabled), [role=slider]";

/** Tab goes round within the card, so that nothing in it is far either way; Esc or Enter leave it. Answers whether it was at an end. */
function isTurnedRound({ shiftKey }: KeyboardEvent, target: HTMLElement): boolean {
  const all = [...(target.closest(".work-body")?.querySelectorAll<HTMLElement>(stops) ?? [])].filter(({ tabIndex }) => tabIndex >= 0);
  const [first, last] = [all[0], all[all.length - 1]];
  if (target !== (shiftKey ? first : last)) return false;
  (shiftKey ? last : first).focus();
  return true;
}

/** Every command's shortcut, and what Esc, Enter and Tab do on the bench. */
export function useShortcuts(onSaid: (text: string) => void): void {
  const dialog = useDialogs((state) => state.open);
  useCommandKeys();
  useEffect(() => {
    const apply = () =>
      void applyWork().then(
        (said) => said && onSaid(said),
        (error: unknown) => tell(sayError(error)),
      );
    // While something is dragged Esc is the drag's.
    const isElsewhere = () => dialog !== null || somethingIsOpen() || usePointerHeld.getState().held;
    /** In the work card: before its fields get them, for all of them mean the same with these two keys. */
    const inCard = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (isElsewhere() || !target.closest?.(".work-body")) return;
      if (event.key === "Escape") stepBack();
      else if (event.key === "Tab") {
        if (!isTurnedRound(event, target)) return;
      } else if (event.key === "Enter" && isCardsEnter(event)) {
        // Leaving a field takes over what was typed, and the next key is the bench's again. A number that was refused is not applied.
        const { waiting } = useNotices.getState();
        target.blur();
        if (useNotices.getState().waiting === waiting) apply();
      } else return;
      event.preventDefault();
      event.stopPropagation();
    };
    const elsewhere = (event: KeyboardEvent) => {
      if (isElsewhere() || event.defaultPrevented || isTyped(event)) return;
      if (event.key === "Escape") stepBack();
      if (event.key === "Enter" && !belongsToButton(event)) apply();
    };
    window.addEventListener("keydown", inCard, true);
    window.addEventListener("keydown", elsewhere);
    return () => {
      window.removeEventListener("keydown", inCard, true);
      window.removeEventListener("keydown", elsewhere);
    };
  }, [dialog, onSaid]);
}
