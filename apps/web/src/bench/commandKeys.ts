import { operations } from "@kneader/core";
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
  "next-layout": "y",
  "full-screen": "shift+y",
  "next-look": "n",
  "find-operation": "o",
  drawer: "j",
  "paste-keys-mirrored": "shift+m",
  "mute-pass": "m",
  "key-weight": "shift+k",
  help: "shift+slash",
  "next-detail": "d",
  "two-details": "shift+d",
  "next-bend": "z",
  "previous-bend": "shift+z",
  "pull-way": "u",
  isolate: "i",
  "lock-picked": "q",
  "range-start": "bracketleft",
  "range-end": "bracketright",
  "whole-figure": "w",
  everything: "shift+e",
  "record-hand": "shift+q",
  "pick-all": "mod+a",
  [operations.simplify.id]: "s",
  [operations.setTangents.id]: "t",
  [operations.setGap.id]: "g",
  [operations.setTiming.id]: "shift+g",
  [operations.convertBlocking.id]: "v",
  [operations.timeWarp.id]: "shift+w",
  [operations.stepping.id]: "shift+o",
  [operations.pasteKeys.id]: "shift+p",
  [operations.closeCycle.id]: "shift+c",
  [operations.insertHold.id]: "shift+h",
  [operations.reverse.id]: "r",
  [operations.runOn.id]: "l",
  [operations.bakeLoop.id]: "shift+l",
  [operations.pastePose.id]: "p",
  [operations.mirrorPose.id]: "x",
  [operations.otherHalf.id]: "shift+x",
  [operations.bakePasses.id]: "b",
  [operations.bakeDown.id]: "shift+b",
  [operations.plantEnds.id]: "shift+n",
  [operations.switchSpace.id]: "shift+i",
  [operations.followTarget.id]: "shift+f",
  [operations.aimAt.id]: "shift+a",
  [operations.reachFor.id]: "shift+r",
  [operations.saveAction.id]: "shift+s",
};

/** Commands whose shortcut is always the one they came with. */
export const fixedShortcuts: ReadonlySet<string> = new Set(["play-pause"]);

/** Keys that mean the same everywhere on the bench. */
const fixedKeys = new Set(["space", "enter", "escape", "tab"]);
/** Shortcuts that browsers keep for themselves, by open convention of all of them. */
const browserKeys = new Set(
  ["t", "n", "w", "r", "l", "p", "shift+t", "shift+n", "shift+w", "shift+r", "shift+i", "shift+p", "tab", "shift+tab"]
    .map((keys) => `mod+${keys}`)
    .concat(["f1", "f3", "f5", "f6", "f11", "f12"]),
);
/** Copying and pasting go by the system's own keys. */
const systemKeys = new Set(["mod+c", "mod+x", "mod+v"]);

/** Why keys cannot be the shortcut of a command; null when they can. */
export function whyNotShortcut(keys: string): string | null {
  const name = keys.split("+").at(-1) ?? "";
  if (fixedKeys.has(name)) return "Space, Enter, Esc and Tab mean the same everywhere and cannot be given away.";
  if (browserKeys.has(keys)) return "the browser keeps this one for itself.";
  return systemKeys.has(keys) ? "it copies, cuts and pastes everywhere." : null;
}

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
    slash: "/",
    bracketleft: "[",
    bracketright: "]",
  };
  return (shortcut ?? "")
    .split("+")
    .filter(Boolean)
    .map((key) => names[key] ?? key.toUpperCase())
    .join(" ");
}
