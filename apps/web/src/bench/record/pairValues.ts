import { useHand } from "./handState.ts";

/** The channels of the pair for a push across and up (−1 … 1) and a pressure (0 … 1). */
export function pairValues(x: number, y: number, pressure: number | null): Record<string, number> {
  const { across, up, pressure: third, amount } = useHand.getState();
  return {
    ...(across ? { [across]: x * amount } : {}),
    ...(up ? { [up]: y * amount } : {}),
    ...(third && pressure !== null ? { [third]: pressure * amount } : {}),
  };
}
