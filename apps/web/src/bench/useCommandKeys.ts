import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { usePreferences } from "../app/preferences.ts";
import { defaultShortcuts } from "./commandKeys.ts";
import { runCommand } from "./commands/commands.ts";
import { useDialogs } from "./dialogs.ts";
import { belongsToButton, isTyped, somethingIsOpen, watchKeys } from "./keyOwner.ts";

/** The shortcuts of all commands, or of some of them (by id), while no field is typed into and no dialog is open. */
export function useCommandKeys(some?: readonly string[]): void {
  const changed = usePreferences((state) => state.shortcuts);
  const shortcuts = Object.entries({ ...defaultShortcuts, ...changed }).filter(([id]) => !some || some.includes(id));
  const byKeys = new Map(shortcuts.map(([id, keys]) => [keys, id]));
  useEffect(watchKeys, []);
  useHotkeys(
    [...byKeys.keys(), "mod+y"],
    (event, pressed) => {
      if (useDialogs.getState().open !== null || somethingIsOpen() || belongsToButton(event)) return;
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
