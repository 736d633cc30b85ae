import { wordsOf } from "../../figure/partners.ts";
import type { Skeleton } from "../../figure/anatomy/skeleton.ts";

/** Side words as they are written in names, brought to one form. */
const sides: Readonly<Record<string, string>> = {
  l: "left",
  lt: "left",
  lf: "left",
  left: "left",
  r: "right",
  rt: "right",
  rf: "right",
  right: "right",
};

/** A name without regard to case, blanks and punctuation. */
export const plain = (name: string): string => name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, "");

/** Words with a side written together with others taken apart: "leftarm" → left, arm. */
function apart(word: string): string[] {
  const side = ["left", "right"].find((one) => word.length > one.length && (word.startsWith(one) || word.endsWith(one)));
  if (!side) return [word];
  return word.startsWith(side) ? [side, word.slice(side.length)] : [word.slice(0, -side.length), side];
}

/** A name by its words, its side brought to one form at the end: "Arm_L", "leftArm" and "Left arm" are all "arm left". */
function worded(given: readonly string[]): string {
  const words = given.flatMap(apart);
  const side = words.find((word) => word in sides);
  const rest = side && words.length > 1 ? words.filter((word) => word !== side) : words;
  return [...rest, ...(side && words.length > 1 ? [sides[side]] : [])].join("");
}

const known = new WeakMap<Skeleton, readonly string[]>();

/** The plain names of all controls, without the first words that nearly all of them share ("otter_", "rig:"). */
export function bareNames(skeleton: Skeleton): readonly string[] {
  let names = known.get(skeleton);
  if (!names) {
    const all = skeleton.controls.map(({ name }) => wordsOf(name.slice(name.lastIndexOf(":") + 1)));
    for (;;) {
      const [first, shared] = mostCommonFirst(all);
      if (shared < 2 || shared < MOST * all.length) break;
      for (const words of all) if (words.length > 1 && words[0] === first) words.shift();
    }
    names = all.map(worded);
    known.set(skeleton, names);
  }
  return names;
}

/** The word most names of several words begin with, a side's aside, and how many do. */
function mostCommonFirst(all: readonly (readonly string[])[]): readonly [word: string, times: number] {
  const times = new Map<string, number>();
  for (const words of all) if (words.length > 1 && !(words[0] in sides)) times.set(words[0], (times.get(words[0]) ?? 0) + 1);
  return [...times].reduce((most, one) => (one[1] > most[1] ? one : most), ["", 0]);
}

/** A first word that so many of the names begin with says nothing about any of them. */
const MOST = 0.8;

/** Places by name, for names that stand once among those that count; of others nothing is known. */
export function onlyOnes(names: readonly string[], counts: (i: number) => boolean): Map<string, number> {
  const places = new Map<string, number>();
  names.forEach((name, i) => {
    if (counts(i) && name !== "") places.set(name, places.has(name) ? -1 : i);
  });
  for (const [name, i] of places) if (i < 0) places.delete(name);
  return places;
}
