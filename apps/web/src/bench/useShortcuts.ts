import { sayError } from "@kneader/core";
import { useEffect } from "react";
import { tell } from "./documents.ts";
import { useDialogs } from "./dialogs.ts";
import { useSelection } from "./selection.ts";
import { isTyped, useCommandKeys } from "./useCommandKeys.ts";
import { useWork } from "./work/workStore.ts";
import { applyWork } from "./work/apply.ts";

/** Every command's shortcut, and what Esc and Enter do on the bench. */
export function useShortcuts(onSaid: (text: string) => void): void {
  const dialog = useDialogs((state) => state.open);
  useCommandKeys();
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (dialog || event.defaultPrevented) return;
      const target = event.target as HTMLElement;
      const typing = isTyped(event);
      if (event.key === "Escape" && !typing) {
        if (useWork.getState().operation) useWork.getState().close();
        else if (Object.keys(useSelection.getState().keys).length > 0) useSelection.getState().pickKeys({});
        else useSelection.getState().clear();
      }
      if (event.key === "Enter" && !typing && !(target instanceof HTMLButtonElement) && useWork.getState().outcome)
        void applyWork().then(
          (said) => said && onSaid(said),
          (error: unknown) => tell(sayError(error)),
        );
    };
    // A choice that was clicked is made; it must not go on taking the bench's keys. One reached by Tab keeps them.
    const click = (event: MouseEvent) => {
      const { activeElement } = document;
      if (event.detail > 0 && activeElement instanceof HTMLInputElement && activeElement.type === "radio") activeElement.blur();
    };
    window.addEventListener("keydown", key);
    window.addEventListener("click", click);
    return () => {
      window.removeEventListener("keydown", key);
      window.removeEventListener("click", click);
    };
  }, [dialog, onSaid]);
}
