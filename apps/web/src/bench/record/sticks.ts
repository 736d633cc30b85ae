import { useHand } from "./handState.ts";
import { pairValues } from "./pairValues.ts";

/** A stick that is pushed less than this is at rest. */
const REST = 0.08;

/** While something is recorded the first gamepad's left stick is heard as the hand, where it drives two channels. Answers how to stop. */
export function listenToSticks(hear: (values: Record<string, number>) => void): () => void {
  let next = 0;
  let pushed = false;
  const look = () => {
    next = requestAnimationFrame(look);
    const pad = navigator.getGamepads?.().find((one) => one !== null);
    if (!pad || useHand.getState().hand !== "pair") return;
    const [x = 0, y = 0] = pad.axes;
    const isPushed = Math.hypot(x, y) > REST;
    if (!isPushed && !pushed) return;
    pushed = isPushed;
    hear(pairValues(isPushed ? x : 0, isPushed ? -y : 0, null));
  };
  next = requestAnimationFrame(look);
  return () => cancelAnimationFrame(next);
}
