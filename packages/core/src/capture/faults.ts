import { drawFrom } from "./draw.ts";
import type { StartMessage } from "./messages.ts";

/** A late packet comes so many packets after its turn. */
const LATE = 12;

type Faults = Pick<StartMessage, "seed" | "dropped" | "late" | "doubled" | "swapped">;

/** What becomes of a packet: the same for a seed, each packet by itself. */
function fateOf({ seed, dropped, late, doubled, swapped }: Faults, sequence: number): "dropped" | "late" | "doubled" | "swapped" | "sent" {
  // The first one says where all begins.
  if (sequence === 0) return "sent";
  let drawn = ((drawFrom(seed, sequence, -2) + 1) / 2) * 100;
  for (const [fate, share] of [
    ["dropped", dropped],
    ["late", late],
    ["doubled", doubled],
    ["swapped", swapped],
  ] as const) {
    if (drawn < share) return fate;
    drawn -= share;
  }
  return "sent";
}

/** Which packets a faulty line lets out when it is the turn of one: none, itself, itself twice, one that is late, two the wrong way round. */
export function sentAt(faults: Faults, sequence: number): number[] {
  const sent: number[] = [];
  const own = fateOf(faults, sequence);
  const before = sequence > 0 ? fateOf(faults, sequence - 1) : "sent";
  if (own === "sent" || own === "doubled") sent.push(sequence);
  if (own === "doubled") sent.push(sequence);
  // One that changes places with the next goes out after it.
  if (before === "swapped") sent.push(sequence - 1);
  if (sequence >= LATE && fateOf(faults, sequence - LATE) === "late") sent.push(sequence - LATE);
  return sent;
}

/** Is a packet never sent at all? */
export const isDropped = (faults: Faults, sequence: number): boolean => fateOf(faults, sequence) === "dropped";
