import { usePreferences } from "../app/preferences.ts";

/** Shortcuts as they come: letters of our own words. Changed ones are kept in the preferences. */
export const defaultShortcuts: Readonly<Record<string, string>> = {
  "find-command": "mod+k",
  undo: "mod+z",
  redo: "mod+shift+z",
  "play-pause": "space",
  "step-forward": "arrowright",
  "step-back": "arrowleft",
  "next-key": "shift+arrowright",
  "previous-key": "shift+arrowleft",
  "first-frame": "home",
  "last-frame": "end",
  fit: "f",
  "key-here": "k",
  "pick-keys-here": "h",
  "remove-keys": "delete",
  "copy-pose": "c",
  "add-pass": "a",
  export: "e",
  "next-detail": "d",
  "two-details": "shift+d",
  "pull-way": "u",
  isolate: "i",
  "lock-picked": "q",
  "range-start": "bracketleft",
  "range-end": "bracketright",
  "whole-figure": "w",
  simplify: "s",
  "set-tangents": "t",
  "set-gap": "g",
  "set-timing": "shift+g",
  "convert-blocking": "v",
  "time-warp": "shift+w",
  stepping: "shift+o",
  "paste-keys": "shift+p",
  "close-cycle": "shift+c",
  "insert-hold": "shift+h",
  reverse: "r",
  "run-on": "l",
  "bake-loop": "shift+l",
  "paste-pose": "p",
  "bake-passes": "b",
  "bake-follow": "shift+b",
  "save-action": "shift+s",
};

function shortcutOf(id: string): string | undefined {
  return usePreferences.getState().shortcuts[id] ?? defaultShortcuts[id];
}

/** The name of a pressed key in a shortcut, by its place on the keyboard: "KeyZ" → "z", "BracketLeft". */
export function keyName(code: string): string {
  return code.replace(/^(Key|Digit|Numpad)/, "").toLowerCase();
}

/** "mod+shift+z" → "Ctrl Shift Z". */
export function commandShortcut(id: string): string {
  return sayShortcut(shortcutOf(id));
}

export function sayShortcut(shortcut: string | undefined): string {
  const names: Record<string, string> = {
    mod: "Ctrl",
    shift: "Shift",
    space: "Space",
    arrowright: "→",
    arrowleft: "←",
    home: "Home",
    end: "End",
    delete: "Del",
    bracketleft: "[",
    bracketright: "]",
  };
  return (shortcut ?? "")
    .split("+")
    .filter(Boolean)
    .map((key) => names[key] ?? key.toUpperCase())
    .join(" ");
}
