import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { sidesOf } from "../../figure/sides.ts";
import { skeletonOf } from "../../figure/anatomy/skeleton.ts";
import { figureControls } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { listed } from "../../words.ts";

/** Who a step is for, found anew on each shot: all that is said must hold. Nothing said: the whole figure. */
export const whoSchema = z
  .strictObject({
    /** Body part. */
    part: z.string().min(1).optional(),
    /** Names or ids, `*` for any letters; one of them is enough. */
    names: z.array(z.string().min(1)).min(1).max(200).optional(),
    side: z.enum(["left", "right", "middle"]).optional(),
    /** Controls whose curves change over time. */
    moves: z.literal(true).optional(),
    /** Picked when it is run. */
    picked: z.literal(true).optional(),
  })
  .default({});
export type Who = z.infer<typeof whoSchema>;

const isNobodyNamed = (who: Who): boolean => Object.keys(who).length === 0;

/** Blanks, hyphens and case do not count in names. */
const plain = (text: string): string => text.toLowerCase().replaceAll(/[\s_.-]+/g, "");

function matches(pattern: string, text: string): boolean {
  const parts = plain(pattern)
    .split("*")
    .map((part) => part.replaceAll(/[^\p{L}\p{N}]/gu, "\\$&"));
  return new RegExp(`^${parts.join(".*")}$`, "u").test(plain(text));
}

/** In words: "legs, left". */
export function sayWho(who: Who): string {
  if (isNobodyNamed(who)) return "the whole figure";
  const said = [
    who.part && `the part "${who.part}"`,
    who.names && listed(who.names.map((name) => `"${name}"`)),
    who.side && (who.side === "middle" ? "in the middle" : `on the ${who.side}`),
    who.moves && "all that move",
    who.picked && "picked when it is run",
  ];
  return said.filter(Boolean).join(", ");
}

/**
 * Ids of the controls meant in a shot; null for the whole figure. `picked` are those picked now. Errors: `no-match` when
 * there is nobody, with the names that come nearest to it.
 */
export function findWho(shot: Shot, who: Who, picked: readonly string[]): string[] | null {
  if (isNobodyNamed(who)) return null;
  const skeleton = skeletonOf(shot.rig);
  const { axis, at } = sidesOf(shot.rig);
  const k = { x: 0, y: 1, z: 2 }[axis];
  const found = figureControls(shot.rig).filter(({ id, name, part, partner }) => {
    if (who.part !== undefined && plain(part) !== plain(who.part)) return false;
    if (who.names && !who.names.some((pattern) => matches(pattern, name) || matches(pattern, id))) return false;
    if (who.moves && !isMoved(shot, id)) return false;
    if (who.picked && !picked.includes(id)) return false;
    if (who.side === undefined) return true;
    const off = skeleton.place(skeleton.index.get(id) as number)[k] - at;
    // A figure that looks along +Z has its left at +X; of partners the side is where they rest.
    const side = partner === id || Math.abs(off) < 1e-6 ? "middle" : off > 0 ? "left" : "right";
    return side === who.side;
  });
  if (found.length === 0) {
    const parts = [...new Set(figureControls(shot.rig).map(({ part }) => part))].filter(Boolean);
    throw new KneaderError(
      "no-match",
      `nobody here is ${sayWho(who)}${who.part && parts.length > 0 ? `; the parts are ${parts.join(", ")}` : ""}.`,
      who.picked ? "Pick controls first." : "Say otherwise who it is for.",
    );
  }
  return found.map(({ id }) => id);
}

function isMoved(shot: Shot, id: string): boolean {
  return [shot.base, ...shot.passes.map(({ curves }) => curves)].some((curves) =>
    Object.entries(curves).some(([key, { values }]) => key.startsWith(`${id}.`) && values.some((value) => value !== values[0])),
  );
}
