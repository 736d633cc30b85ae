import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { usePreferences } from "../app/preferences.ts";
import { defaultShortcuts } from "./commandKeys.ts";
import { runCommand } from "./commands/commands.ts";
import { useDialogs } from "./dialogs.ts";
import { belongsToButton, isTyped, somethingIsOpen, watchKeys } from "./keyOwner.ts";

const FINDER = "find-command";

/** The shortcuts of all commands, or of some of them (by id), while no field is typed into and no dialog is open. */
export function useCommandKeys(some?: readonly string[]): void {
  const changed = usePreferences((state) => state.shortcuts);
  const shortcuts = Object.entries({ ...defaultShortcuts, ...changed }).filter(([id]) => (!some || some.includes(id)) && id !== FINDER);
  const byKeys = new Map(shortcuts.map(([id, keys]) => [keys, id]));
  useEffect(watchKeys, []);
  useFinderKey(some && !some.includes(FINDER) ? undefined : (changed[FINDER] ?? defaultShortcuts[FINDER]));
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
      runCommand(id);
    },
    { preventDefault: false, useKey: false, enableOnFormTags: true, ignoreEventWhen: isTyped },
    [byKeys],
  );
}

/** The finder opens out of any field too, before the field gets the key: only keys that would type something are the field's. */
function useFinderKey(keys: string | undefined): void {
  useHotkeys(
    keys ?? "",
    (event) => {
      if (useDialogs.getState().open !== null || somethingIsOpen() || belongsToButton(event)) return;
      event.preventDefault();
      useDialogs.getState().show("finder");
    },
    {
      enabled: keys !== undefined,
      useKey: false,
      preventDefault: false,
      enableOnFormTags: true,
      eventListenerOptions: { capture: true },
      ignoreEventWhen: (event) => isTyped(event) && !event.ctrlKey && !event.metaKey,
    },
  );
}
