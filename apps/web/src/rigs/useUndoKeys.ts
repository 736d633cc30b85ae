import { useEffect } from "react";
import { useDocuments } from "../bench/documents.ts";
import { isTyped } from "../bench/keyOwner.ts";

/** Undo and redo by their keys, on pages other than the bench. */
export function useUndoKeys(): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.code !== "KeyZ" || isTyped(event)) return;
      event.preventDefault();
      const { undo, redo } = useDocuments.getState();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
