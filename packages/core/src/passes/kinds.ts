import { addsPass } from "./adds.ts";
import type { PassKind, TimedPassKind } from "./passKind.ts";
import { replacesPass } from "./replaces.ts";
import { steppingPass } from "./stepping.ts";
import { warpPass } from "./warp.ts";

/** Every kind of pass, in the order in which they are offered. */
export const passKinds: readonly PassKind[] = [addsPass, replacesPass, warpPass, steppingPass];

export function passKind(id: string): PassKind | undefined {
  return passKinds.find((kind) => kind.id === id);
}

/** The kind of a pass that reads what is below at other frames; undefined for every other. */
export function timedKind(id: string): TimedPassKind | undefined {
  const kind = passKind(id);
  return kind?.reads === "time" ? kind : undefined;
}
