import { type Action, type ChannelKey, controlsFor, type Curve, curveFrom, Tangent } from "@kneader/core";
import { ferrymanRig } from "./rig.ts";
import { type Stance, takeStance } from "./stance.ts";

const DAY = 1790000000000;

function action(name: string, notes: string, tags: string[], folder: string, curves: Record<ChannelKey, Curve>): Action {
  const id = `demo-${name.toLowerCase().replaceAll(" ", "-")}`;
  const controls = controlsFor(ferrymanRig, Object.keys(curves));
  let length = 0;
  for (const curve of Object.values(curves)) length = Math.max(length, curve.times[curve.times.length - 1]);
  return {
    card: { id, name, notes, tags, folder, savedAt: DAY },
    clip: { rate: { num: 24, den: 1 }, from: 0, length, whole: false, curves, controls, figure: ferrymanRig.figure },
  };
}

function pose(name: string, notes: string, stance: Stance): Action {
  const values = Object.entries(takeStance(stance).snapshot()).filter(([key]) => !key.startsWith("ferryman."));
  return action(
    name,
    notes,
    ["pose", "standing"],
    "Poses",
    Object.fromEntries(values.map(([key, value]) => [key, curveFrom([[0, value]], Tangent.flat)])),
  );
}

const at = (pairs: [number, number][]) => curveFrom(pairs);

const nod = (): Action =>
  action("Nod", "Chin down, a small rebound, and still.", ["head", "reaction"], "Landing", {
    "neck.rotateX": at([
      [0, 0],
      [5, 7],
      [10, -2],
      [16, 0],
    ]),
    "head.rotateX": at([
      [0, 0],
      [4, -4],
      [8, 16],
      [13, -5],
      [18, 0],
    ]),
    "cap.rotateX": at([
      [0, 0],
      [9, 3],
      [14, -2],
      [20, 0],
    ]),
    "tassel-1.rotateX": at([
      [0, 6],
      [6, -14],
      [11, 22],
      [16, -6],
      [22, 6],
    ]),
    "tassel-2.rotateX": at([
      [0, 8],
      [7, -18],
      [12, 30],
      [18, -10],
      [24, 8],
    ]),
  });

const lanternLift = (): Action =>
  action("Lantern lift", "Left arm brings the lantern up to look ahead.", ["arms", "lantern"], "Landing", {
    "upper-arm-left.rotateX": at([
      [0, -6],
      [4, 4],
      [14, -112],
      [18, -106],
      [32, -106],
    ]),
    "upper-arm-left.rotateZ": at([
      [0, 8],
      [14, 20],
      [32, 18],
    ]),
    "forearm-left.rotateX": at([
      [0, -16],
      [6, -34],
      [16, -30],
      [32, -34],
    ]),
    "hand-left.rotateX": at([
      [0, 0],
      [8, 14],
      [16, -18],
      [22, -10],
      [32, -12],
    ]),
    "chest.rotateX": at([
      [0, 3],
      [5, 6],
      [14, -4],
      [32, -2],
    ]),
    "head.rotateX": at([
      [0, -3],
      [5, 4],
      [14, -12],
      [32, -10],
    ]),
    "lantern-body.rotateX": at([
      [0, 0],
      [8, -16],
      [16, 20],
      [23, -12],
      [30, 6],
      [36, 0],
    ]),
  });

const tailFlick = (): Action =>
  action("Tail flick", "A quick lash that runs down the tail.", ["tail", "reaction"], "Landing", {
    "tail-1.rotateY": at([
      [0, 0],
      [4, -10],
      [8, 18],
      [14, -4],
      [20, 0],
    ]),
    "tail-2.rotateY": at([
      [0, 0],
      [6, -14],
      [10, 24],
      [16, -7],
      [22, 0],
    ]),
    "tail-3.rotateY": at([
      [0, 0],
      [8, -18],
      [12, 30],
      [18, -10],
      [25, 0],
    ]),
    "tail-4.rotateY": at([
      [0, 0],
      [10, -22],
      [14, 38],
      [20, -14],
      [28, 0],
    ]),
  });

const wave = (): Action =>
  action("Wave", "Right arm up, three waves from the elbow, down.", ["arms", "greeting"], "Landing", {
    "upper-arm-right.rotateX": at([
      [0, -4],
      [10, -128],
      [38, -126],
      [50, -4],
    ]),
    "upper-arm-right.rotateZ": at([
      [0, -8],
      [10, -38],
      [38, -38],
      [50, -8],
    ]),
    "forearm-right.rotateX": at([
      [0, -16],
      [10, -40],
      [38, -38],
      [50, -16],
    ]),
    "forearm-right.rotateZ": at([
      [0, 0],
      [10, 20],
      [16, -24],
      [22, 24],
      [28, -24],
      [34, 20],
      [42, 0],
    ]),
    "hand-right.rotateZ": at([
      [0, 0],
      [12, 12],
      [18, -16],
      [24, 16],
      [30, -16],
      [36, 12],
      [44, 0],
    ]),
    "head.rotateZ": at([
      [0, 0],
      [12, 6],
      [38, 5],
      [50, 0],
    ]),
  });

const standEasy = (): Action =>
  pose("Stand easy", "Weight even, arms hanging.", {
    x: 0,
    up: -0.02,
    hips: [2, 0, 0],
    chest: [3, 0, 0],
    head: [-3, 0, 0],
    armLeft: [6, 8, 15],
    armRight: [2, 8, 18],
    tail: [6, 2, -8, -10],
  });

const standAlert = (): Action =>
  pose("Stand alert", "Tall, chin up, tail lifted.", {
    x: 0,
    up: 0.0,
    hips: [-2, 0, 0],
    chest: [-5, 0, 0],
    neck: [-4, 0, 0],
    head: [-8, 0, 0],
    armLeft: [14, 12, 26],
    armRight: [12, 12, 28],
    tail: [22, 16, 10, 8],
    ears: -12,
  });

const standWeary = (): Action =>
  pose("Stand weary", "Heavy head, belly out, tail down.", {
    x: 0,
    up: -0.06,
    along: 0.02,
    hips: [-6, 0, 0],
    belly: [10, 0, 0],
    chest: [18, 0, 0],
    neck: [12, 0, 0],
    head: [14, 0, 0],
    armLeft: [12, 5, 6],
    armRight: [10, 5, 6],
    tail: [-4, -6, -6, -4],
    tassel: [-10, -14],
  });

const leanOnTheRail = (): Action =>
  pose("Lean on the rail", "Hip out to one side, head turned.", {
    x: 0,
    up: -0.04,
    hips: [2, 8, 7],
    belly: [3, -4, -6],
    chest: [4, -8, -5],
    head: [-2, 24, -4],
    armLeft: [44, 22, 40],
    armRight: [-4, 16, 22],
    footLeft: [0.05, 0, 0],
    footRight: [-0.05, 0, 0],
    tail: [8, 2, -6, -8],
    sway: [-10, -12, -10, -8],
  });

/** What the pantry holds when it is opened for the first time. */
export function demoActions(): Action[] {
  return [nod(), lanternLift(), tailFlick(), wave(), standEasy(), standAlert(), standWeary(), leanOnTheRail()];
}
