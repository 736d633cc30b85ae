import { addsPass } from "./adds.ts";
import type { PassKind } from "./passKind.ts";
import { replacesPass } from "./replaces.ts";

/** Every kind of pass, in the order in which they are offered. */
export const passKinds: readonly PassKind[] = [addsPass, replacesPass];

export function passKind(id: string): PassKind | undefined {
  return passKinds.find((kind) => kind.id === id);
}
