import { currentDocument } from "../documents.ts";
import { addPass, changePass } from "../edits.ts";
import { mention, tell } from "../notices.ts";
import { keyWeightHere, weightedPass } from "../rack/passes/WeightKeys.tsx";
import { useSelection } from "../selection.ts";
import { useDrawer } from "../drawer/drawerStore.ts";
import { useWork } from "../work/workStore.ts";
import { useDialogs } from "../dialogs.ts";
import type { Command } from "./command.ts";

const chosenPass = () => currentDocument()?.passes.find(({ id }) => id === useSelection.getState().layer);
const missing = () => (chosenPass() ? null : "It needs a chosen pass.");

function withChosen(change: (pass: NonNullable<ReturnType<typeof chosenPass>>) => void): void {
  const pass = chosenPass();
  if (pass) change(pass);
  else tell("No pass is chosen. Choose one in the pass tray.");
}

/** The stack of passes. */
export const passCommands: readonly Command[] = [
  {
    id: "drawer",
    title: "Pantry drawer",
    words: "action library shelf drag lay apply clips poses saved",
    help: "Saved actions beside the trays: drag one onto them, or open it in the card that lays it.",
    run() {
      useWork.getState().close();
      useDrawer.getState().toggle();
    },
  },
  {
    id: "add-pass",
    title: "Add an adding pass",
    words: "layer new offset additive tweak override",
    help: "Its keys are differences; the motion below keeps playing.",
    run: () => addPass("adds"),
  },
  {
    id: "add-replacing-pass",
    title: "Add a replacing pass",
    words: "layer new override absolute",
    help: "Its keys take the place of what is below, on the channels it has.",
    run: () => addPass("replaces"),
  },
  {
    id: "mute-pass",
    title: "Switch the chosen pass off or on",
    words: "mute disable enable layer toggle",
    help: "Off, the shot plays as if it were not there.",
    missing,
    run: () =>
      withChosen(({ id, on, name }) => {
        changePass(id, { on: !on });
        mention(`${name} is ${on ? "off" : "on"}.`);
      }),
  },
  {
    id: "solo-pass",
    title: "Play the chosen pass alone",
    words: "solo only layer isolate",
    help: "Alone over base motion; once more, all play again.",
    missing,
    run: () => withChosen(({ id, solo }) => changePass(id, { solo: !solo })),
  },
  {
    id: "key-weight",
    title: "Key the weight of the chosen pass",
    words: "animate strength fade in out envelope dial",
    help: "A key on its weight at the playhead; then typing the weight keys it.",
    missing,
    run: () => withChosen((pass) => keyWeightHere(weightedPass(pass))),
  },
  {
    id: "base-motion",
    title: "Work in base motion",
    words: "bottom layer choose",
    help: "Keys go to base motion, and its curves are drawn.",
    run: () => useSelection.getState().setLayer("base"),
  },
  {
    id: "keep-version",
    title: "Keep this state as a version",
    words: "versions iteration variant alternative snapshot take save passes",
    help: "Keeps which passes are on and how strong, under a name.",
    run: () => useDialogs.getState().show("version"),
  },
];
