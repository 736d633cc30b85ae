import { clock } from "../../clock.ts";
import { mention, tell } from "../../notices.ts";
import { useArcState } from "./arcState.ts";

/** Go to the next bend of the arcs shown, or the one before; round at the ends. */
export function stepBends(by: 1 | -1): void {
  const { bends } = useArcState.getState();
  if (bends.length === 0) {
    tell("No bend stands out. Pick a hand, a foot or a tip, with Arc on in the view.");
    return;
  }
  const { frame } = clock;
  const next =
    by > 0
      ? (bends.find((bend) => bend.frame > frame) ?? bends[0])
      : (bends.findLast((bend) => bend.frame < frame) ?? bends[bends.length - 1]);
  clock.set(next.frame);
  mention(`${next.name} turns by ${Math.round(next.turn)}° at frame ${next.frame}, ${Math.round(next.size)}° more than beside it.`);
}
