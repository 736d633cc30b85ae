import { goTo } from "../../app/wayfinder.ts";
import { pickFiles } from "../../app/pickFiles.ts";
import { usePreferences } from "../../app/preferences.ts";
import { useDialogs } from "../dialogs.ts";
import { useDocuments } from "../documents.ts";
import { findOperation } from "../work/findOperation.ts";
import { useWork } from "../work/workStore.ts";
import type { Command } from "./command.ts";

const show = (dialog: Parameters<ReturnType<typeof useDialogs.getState>["show"]>[0]) => () => useDialogs.getState().show(dialog);

/** Pages, files, settings and help. */
export const pageCommands: readonly Command[] = [
  {
    id: "find-operation",
    title: "Choose an operation",
    words: "rework list menu tools",
    help: "Goes to the list of operations; type to find one.",
    run: findOperation,
  },
  { id: "history", title: "Show the history", words: "steps undo list", run: show("history") },
  {
    id: "export",
    title: "Export",
    words: "save file gltf glb bvh csv json download render write",
    help: "Writes the shot to a file, and says first what the format cannot hold.",
    run: show("export"),
  },
  {
    id: "import",
    title: "Open files",
    words: "import load read gltf glb bvh csv json mocap capture shot action",
    help: "Shots and actions from files; they may also be dropped anywhere.",
    run: pickFiles,
  },
  { id: "go-shelf", title: "Shots on the shelf", words: "home list open close files scenes", run: () => goTo("/") },
  {
    id: "go-compare",
    title: "Compare",
    words: "versions before after difference side by side contact sheet",
    help: "Two states of the shot in step.",
    run: () => goTo(`/shots/${useDocuments.getState().current}/compare`),
  },
  {
    id: "go-rig",
    title: "Rig: partners and sides",
    words: "mirror symmetry left right partner pairs controls hierarchy skeleton naming setup",
    help: "Who is whose partner, who is left out when mirrored, and how far each lands beside its reflection.",
    run: () => goTo(`/rigs/${useDocuments.getState().current}`),
  },
  { id: "go-pantry", title: "Pantry", words: "actions library saved motion poses clips reuse folder", run: () => goTo("/pantry") },
  {
    id: "go-settings",
    title: "Settings",
    words: "preferences options shortcuts hotkeys keyboard keys configure theme",
    help: "Theme, ghosts and shortcuts.",
    run: () => goTo("/settings"),
  },
  {
    id: "theme",
    title: "Light or dusk theme",
    words: "dark mode colours night bright appearance",
    run: () => usePreferences.getState().set({ theme: usePreferences.getState().theme === "dusk" ? "light" : "dusk" }),
  },
  {
    id: "help",
    title: "First steps",
    words: "help tutorial learn how guide introduction manual start",
    help: "The five things that matter on the bench.",
    run: () => {
      useWork.getState().close();
      usePreferences.getState().set({ welcomed: false });
    },
  },
];
