import { useHotkeys } from "react-hotkeys-hook";
import { usePreferences } from "../app/preferences.ts";
import { defaultShortcuts } from "./commandKeys.ts";
import { runCommand } from "./commands.ts";
import { useDialogs } from "./dialogs.ts";

/** Keys that mean something of their own on a focused button or field. */
function belongsToTarget(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  return (event.code === "Space" || event.key === "Enter") && target instanceof HTMLButtonElement && target.matches(":focus-visible");
}

/** Does the key go into a field, or move a choice that has the focus? */
export function isTyped(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  if (!(target instanceof HTMLInputElement)) return target?.matches("textarea, select, [contenteditable]") ?? false;
  // A choice from a list takes letters only while the list is open; closed, it takes what opens it.
  // A field for words of one's own (tags, frames) is one to type into, list or not.
  if (target.role === "combobox" && target.getAttribute("aria-expanded") === "false" && !target.closest(".ant-select-multiple"))
    return event.code === "Space" || event.key === "Enter" || event.key.startsWith("Arrow");
  if (target.type === "radio" || target.type === "checkbox") return event.code === "Space" || event.key.startsWith("Arrow");
  return true;
}

/** The shortcuts of all commands, or of some of them (by id), while no field is typed into and no dialog is open. */
export function useCommandKeys(some?: readonly string[]): void {
  const changed = usePreferences((state) => state.shortcuts);
  const shortcuts = Object.entries({ ...defaultShortcuts, ...changed }).filter(([id]) => !some || some.includes(id));
  const byKeys = new Map(shortcuts.map(([id, keys]) => [keys, id]));
  useHotkeys(
    [...byKeys.keys(), "mod+y"],
    (event, pressed) => {
      // A dialog that is only closing takes no keys any more.
      const listOpen = document.querySelector(".ant-select-dropdown:not(.ant-select-dropdown-hidden):not(.ant-slide-up-leave)");
      if (useDialogs.getState().open !== null || listOpen || belongsToTarget(event)) return;
      const names = [pressed.mod || pressed.ctrl ? "mod" : "", pressed.shift ? "shift" : "", ...(pressed.keys ?? [])]
        .filter(Boolean)
        .join("+");
      const id = byKeys.get(names) ?? (names === "mod+y" ? "redo" : undefined);
      if (!id) return;
      event.preventDefault();
      if (id === "find-command") useDialogs.getState().show("finder");
      else runCommand(id);
    },
    { preventDefault: false, useKey: false, enableOnFormTags: true, ignoreEventWhen: isTyped },
    [byKeys],
  );
}
