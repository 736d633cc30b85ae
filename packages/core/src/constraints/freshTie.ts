import type { Shot } from "../model/shot.ts";

/** An id for a constraint, of what it is about and a number where that is taken; no control or pass has it either. */
export function freshTie(shot: Shot, about: string): string {
  const taken = new Set([...shot.constraints, ...shot.passes, ...shot.rig.controls].map(({ id }) => id));
  let id = about;
  for (let n = 2; taken.has(id); n++) id = `${about}-${n}`;
  return id;
}
