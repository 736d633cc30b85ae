import type { Pass, Shot } from "../model/shot.ts";

/** Passes that play, from the bottom up: those on, or only the solo ones when any is. */
export function activePasses(shot: Pick<Shot, "passes">, below?: string): Pass[] {
  if (below === "base") return [];
  const cut = below === undefined ? -1 : shot.passes.findIndex((pass) => pass.id === below);
  const stack = cut < 0 ? shot.passes : shot.passes.slice(0, cut);
  const solo = shot.passes.some((pass) => pass.solo);
  return stack.filter((pass) => (solo ? pass.solo : pass.on));
}
