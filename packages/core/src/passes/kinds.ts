import { addsPass } from "./adds.ts";
import { fieldPass } from "./field.ts";
import { flightPass } from "./flight/flight.ts";
import { followThroughPass } from "./followThrough.ts";
import { lagPass } from "./lag.ts";
import type { ComputedPassKind, PassKind, TimedPassKind } from "./passKind.ts";
import { playPass } from "./play.ts";
import { replacesPass } from "./replaces.ts";
import { steppingPass } from "./stepping.ts";
import { smoothPass } from "./smooth.ts";
import { stretchPass } from "./stretch.ts";
import { tremorPass } from "./tremor.ts";
import { warpPass } from "./warp.ts";

/** Every kind of pass, in the order in which they are offered. */
export const passKinds: readonly PassKind[] = [
  addsPass,
  replacesPass,
  playPass,
  fieldPass,
  flightPass,
  followThroughPass,
  lagPass,
  stretchPass,
  tremorPass,
  smoothPass,
  warpPass,
  steppingPass,
];

export function passKind(id: string): PassKind | undefined {
  return passKinds.find((kind) => kind.id === id);
}

/** How a kind of pass reads what is below at other frames; undefined for kinds that do not. */
export function timedKind(id: string): Pick<TimedPassKind, "reader"> | undefined {
  const kind = passKind(id);
  if (kind?.reads === "time") return kind;
  return kind?.reads === "motion" && kind.reader ? { reader: kind.reader } : undefined;
}

/** The kind of a pass that is computed from what is below; undefined for keyed passes. */
export function computedKind(id: string): ComputedPassKind | undefined {
  const kind = passKind(id);
  return kind?.reads === "keys" ? undefined : kind;
}
