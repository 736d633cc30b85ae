import { type Detail, details, usePreferences } from "../../app/preferences.ts";
import { fitShown } from "../fit.ts";
import { cameras } from "../view/cameraNames.ts";
import { toggleFullScreen } from "../view/fullScreen.ts";
import { looks } from "../view/looks.ts";
import { layouts } from "../layouts.ts";
import { stepBends } from "../view/arcs/stepBends.ts";
import type { Command } from "./command.ts";

const detailAfter = (detail: Detail) => details[(details.indexOf(detail) + 1) % details.length];
const { getState } = usePreferences;

const next = <Value>(list: readonly { readonly value: Value }[], now: Value): Value =>
  list[(list.findIndex(({ value }) => value === now) + 1) % list.length].value;

/** What is seen, and how. */
export const viewCommands: readonly Command[] = [
  {
    id: "next-layout",
    title: "Layout: next",
    words: "view rack bigger larger figure window panels wide workspace size",
    help: "Look gives the figure nearly all the room, shape gives it to the curves.",
    run: () => getState().set({ layout: next(layouts, getState().layout) }),
  },
  ...layouts.map(
    ({ value, label, help }): Command => ({
      id: `layout-${value}`,
      title: `Layout: ${label.toLowerCase()}`,
      words: "view rack figure window panels workspace",
      help,
      run: () => getState().set({ layout: value }),
    }),
  ),
  {
    id: "full-screen",
    title: "Full screen",
    words: "maximise big playing theatre",
    help: "The figure alone, to be played; Esc comes back.",
    run: toggleFullScreen,
  },
  {
    id: "next-look",
    title: "Lit, flat or silhouette",
    words: "shading figure look pose light dark outline",
    help: "Poses are judged by their silhouette.",
    run: () => getState().set({ look: next(looks, getState().look) }),
  },
  ...looks.map(
    ({ value, label, help }): Command => ({
      id: `look-${value}`,
      title: value === "silhouette" ? label : `${label} figure`,
      words: value === "silhouette" ? "outline shape black pose clarity" : "shading figure look",
      help,
      run: () => getState().set({ look: value }),
    }),
  ),
  ...cameras.map(
    ({ value: camera }): Command => ({
      id: `camera-${camera}`,
      title: camera === "free" ? "Free camera" : camera === "shot" ? "Shot camera" : `${camera === "front" ? "Front" : "Side"} view`,
      words: `camera view perspective ${camera === "free" ? "orbit turn pan zoom tumble" : "orthographic straight angle"}`,
      help: camera === "free" ? "Drag turns, right drag pans, the wheel zooms." : undefined,
      run: () => getState().set({ camera }),
    }),
  ),
  {
    id: "set-shown",
    title: "Set or plain room",
    words: "scenery background landing grid floor hide",
    help: "A plain room with a grid, to judge movement against something still.",
    run: () => getState().set({ room: !getState().room }),
  },
  {
    id: "ghosts",
    title: "Ghosts",
    words: "ghost onion skin neighbouring poses pale before after",
    help: "Neighbouring poses, drawn pale.",
    run: () => getState().set({ ghosts: !getState().ghosts }),
  },
  {
    id: "arc",
    title: "Arc",
    words: "arcs trail motion path trajectory track line spacing",
    help: "The path of the picked controls through space, a mark a frame.",
    run: () => getState().set({ arc: !getState().arc }),
  },
  {
    id: "arc-flat",
    title: "Arc flat, as the camera sees it",
    words: "arcs screen space picture 2d camera trail path",
    help: "Each frame of the arc where the shot camera sees it then.",
    run: () => getState().set({ arcFlat: !getState().arcFlat, arc: true }),
  },
  {
    id: "next-bend",
    title: "Next bend of the arc",
    words: "kink corner arc path jump pop find step",
    help: "Goes to the next frame at which a path shown turns harder than beside it.",
    run: () => stepBends(1),
  },
  {
    id: "previous-bend",
    title: "Previous bend of the arc",
    words: "kink corner arc path jump pop find step back",
    run: () => stepBends(-1),
  },
  {
    id: "fit",
    title: "Fit",
    words: "frame all zoom show selection focus centre",
    help: "Shows the picked keys, or the whole shot; in the free camera the picked part, or the figure.",
    run: fitShown,
  },
  {
    id: "pull-way",
    title: "Pull by turning or by reaching",
    words: "pose drag figure part joint limb reach turn move rotate manipulate ik fk record aim",
    help: "What gives way when a part of the figure is dragged: the part itself, or what it hangs on.",
    run: () => getState().set({ pullBy: getState().pullBy === "turn" ? "reach" : "turn" }),
  },
  {
    id: "hold-feet",
    title: "Hold the feet while pulling",
    words: "plant pin lock ground ik hips feet stay",
    help: "Feet below what is pulled stay where they stand.",
    run: () => getState().set({ holdFeet: !getState().holdFeet }),
  },
  {
    id: "hold-hands",
    title: "Hold the hands while pulling",
    words: "plant pin lock ik grip stay",
    help: "Hands below what is pulled stay where they are.",
    run: () => getState().set({ holdHands: !getState().holdHands }),
  },
  {
    id: "pull-both",
    title: "Pull both sides",
    words: "symmetry symmetric mirror left right together",
    help: "The partners of what gives way follow mirrored.",
    run: () => getState().set({ pullBoth: !getState().pullBoth }),
  },
  ...details.map(
    (detail): Command => ({
      id: `show-${detail}`,
      title: { curves: "Curve tray", sheet: "Sheet tray", spacing: "Spacing tray" }[detail],
      words: {
        curves: "function curves splines lines graph",
        sheet: "dope keys blocks timeline table exposure x-sheet",
        spacing: "speed velocity chart ease",
      }[detail],
      run: () => getState().set({ detail }),
    }),
  ),
  {
    id: "next-detail",
    title: "Curves, sheet, spacing",
    words: "keys lines speed tray switch detail rows next",
    help: "Shows the next of the trays in the lower part of the rack.",
    run: () => getState().set({ detail: detailAfter(getState().detail) }),
  },
  {
    id: "two-details",
    title: "Two trays below one another",
    words: "curves sheet spacing split second both detail",
    run: () => {
      const { detail, below, set } = getState();
      set({ below: below !== null && below !== detail ? null : detailAfter(detail) });
    },
  },
];
