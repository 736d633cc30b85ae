import type { Shot } from "@kneader/core";
import { capturedSignal } from "./shots/capturedSignal.ts";
import { halfAWalk } from "./shots/halfAWalk.ts";
import { handOverTheLantern } from "./shots/handOverTheLantern.ts";
import { hopAboard } from "./shots/hopAboard.ts";
import { waitingOnBoard } from "./shots/waitingOnBoard.ts";

export { standingFerryman } from "./standing.ts";

export { demoActions } from "./actions.ts";
export { wholeWalk } from "./shots/halfAWalk.ts";
export { otterBody } from "./otterBody.ts";

/** The demo's shots, in the order in which the shelf shows them. */
export const demoShots: readonly { id: string; name: string; make(): Shot | Promise<Shot>; note: string }[] = [
  { id: "demo-half-a-walk", name: "Half a walk", make: halfAWalk, note: "One step along the jetty: mirror it, loop it, carry it on." },
  { id: "demo-hop-aboard", name: "Hop aboard", make: hopAboard, note: "Stepped poses five frames apart, waiting to be retimed." },
  {
    id: "demo-hand-over",
    name: "Hand over the lantern",
    make: handOverTheLantern,
    note: "The lantern follows one hand, then the other, then the hook.",
  },
  { id: "demo-captured-signal", name: "Captured signal", make: capturedSignal, note: "A noisy key on every frame: simplify it." },
  { id: "demo-waiting", name: "Waiting on board", make: waitingOnBoard, note: "An idle that loops while the ferry rocks." },
];
