import type { Control, Rig } from "../model/rig.ts";
import { restWorlds } from "./restPlace.ts";
import { placeAt } from "./rigLayout.ts";
import { axisNumber, findSides, sizeOf } from "./sides.ts";

/** Words that mean left and right in names. */
export type SideWords = readonly [left: string, right: string];

const habits: readonly SideWords[] = [
  ["left", "right"],
  ["l", "r"],
  ["lt", "rt"],
  ["lf", "rf"],
];

/** Words at least so long are known as a side also where they are written together with others: "leftarm". */
const LONG = 4;

/** "LeftUpLeg" → left, up, leg; "hand_L" → hand, l; "LHipJoint" → l, hip, joint. */
export function wordsOf(name: string): string[] {
  return name
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .replace(/([A-Z])([A-Z][a-z])/g, "$1 $2")
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean)
    .map((word) => word.toLowerCase());
}

/** The side that a name speaks of, if it does. */
export function sideOf(name: string): "left" | "right" | null {
  const words = wordsOf(name);
  for (const [left, right] of habits) {
    if (words.includes(left)) return "left";
    if (words.includes(right)) return "right";
  }
  return null;
}

/** A part of a name that may be a side word: where it begins, and itself. */
interface Piece {
  readonly at: number;
  readonly text: string;
}

/** The words of a name where they stand in it, digits by themselves: "LArm2_rt" → L, Arm, 2, rt. */
function piecesOf(name: string): Piece[] {
  const pieces: Piece[] = [];
  for (const { index, 0: text } of name.matchAll(/\p{Lu}+(?!\p{Ll})|\p{Lu}?\p{Ll}+|\p{Lo}+|\d+/gu)) pieces.push({ at: index, text });
  return pieces;
}

/** The word for the other side, written as this one is: L → R, Left → Right, LEFT → RIGHT. Null when it is none. */
function otherSide(text: string, words: readonly SideWords[]): string | null {
  const lower = text.toLowerCase();
  const pair = words.find((one) => one.includes(lower));
  if (!pair) return null;
  const other = pair[0] === lower ? pair[1] : pair[0];
  if (text === lower) return other;
  if (text === text.toUpperCase()) return other.toUpperCase();
  return other[0].toUpperCase() + other.slice(1);
}

/** The same where the side is written together with other letters. */
function otherSideWithin(text: string, words: readonly SideWords[]): string | null {
  for (const word of words.flat()) {
    if (word.length < LONG || text.length <= word.length) continue;
    const [head, tail] = [text.slice(0, word.length), text.slice(-word.length)];
    if (head.toLowerCase() === word) return otherSide(head, words) + text.slice(word.length);
    if (tail.toLowerCase() === word) return text.slice(0, -word.length) + otherSide(tail, words);
  }
  return null;
}

/** What the control on the other side may be called, the likelier names first; none when the name speaks of no side. */
function namesAcross(name: string, words: readonly SideWords[]): string[] {
  const pieces = piecesOf(name);
  const put = (swaps: readonly (readonly [Piece, string])[]) =>
    swaps.reduceRight((text, [{ at, text: was }, is]) => text.slice(0, at) + is + text.slice(at + was.length), name);
  const swapsBy = (other: (text: string, words: readonly SideWords[]) => string | null) =>
    pieces.flatMap((piece) => {
      const is = other(piece.text, words);
      return is === null ? [] : [[piece, is] as const];
    });
  const sides = swapsBy(otherSide);
  const within = swapsBy(otherSideWithin);
  return [...(sides.length > 1 ? [put(sides)] : []), ...sides.map((swap) => put([swap])), ...within.map((swap) => put([swap]))];
}

/** Does a name say plainly which side it is of? A letter with a number ("L5") may be many things. */
function saysSide(name: string, words: readonly SideWords[]): boolean {
  const pieces = piecesOf(name);
  return pieces.some(({ at, text }, i) => {
    if (otherSide(text, words) === null) return false;
    const next = pieces[i + 1];
    return text.length > 1 || !next || next.at > at + text.length || !/^\d/.test(next.text);
  });
}

const plain = (name: string) =>
  piecesOf(name)
    .map(({ text }) => text.toLowerCase())
    .join(" ");

/**
 * Every control's partner from its name, in any common left/right habit (before, behind or inside; whole words, letters,
 * own `words` first). Two are partners only when each finds the other. A control that names no side is its own partner;
 * one that plainly names a side but has no counterpart gets null.
 */
export function findPartners(controls: readonly Control[], words: readonly SideWords[] = []): Control[] {
  const known = [...words.map(([l, r]): SideWords => [l.toLowerCase(), r.toLowerCase()]), ...habits];
  const byName = new Map(controls.map((control) => [control.name, control.id]));
  // Names may be written differently on the two sides; those that then are alike tell nothing.
  const byWords = new Map<string, string | null>();
  for (const { name, id } of controls) byWords.set(plain(name), byWords.has(plain(name)) ? null : id);
  const found = new Map(
    controls.map(({ id, name }) => {
      const across = namesAcross(name, known);
      const other = [...across.map((one) => byName.get(one)), ...across.map((one) => byWords.get(plain(one)))].find(
        (one) => one && one !== id,
      );
      return [id, other ?? null];
    }),
  );
  const paired = controls.map((control) => {
    const other = found.get(control.id) ?? null;
    if (other !== null && found.get(other) === control.id) return { ...control, partner: other };
    return { ...control, partner: saysSide(control.name, known) ? null : control.id };
  });
  return withCentral(paired);
}

/** How far from the middle (share of the figure's size) a control still rests in it. */
const IN_MIDDLE = 0.004;

/** What names a side, has nobody on the other one, and rests in the middle is central all the same: "Wheel L" of a cart, "Bell". */
function withCentral(controls: Control[]): Control[] {
  const isLonely = ({ partner }: Control) => partner === null;
  const pairs = controls.filter(({ id, partner }) => partner !== null && partner !== id);
  if (!controls.some(isLonely) || pairs.length < 2) return controls;
  const rig: Rig = { id: "", name: "", figure: null, controls };
  const sides = findSides(rig);
  const worlds = restWorlds(rig);
  const near = IN_MIDDLE * sizeOf(rig);
  return controls.map((control, i) =>
    isLonely(control) && Math.abs(worlds[placeAt(i) + axisNumber(sides)] - sides.at) <= near
      ? { ...control, partner: control.id }
      : control,
  );
}

/** Controls that name a side but have nobody on the other one. */
export function withoutPartner(rig: Rig): Control[] {
  return rig.controls.filter((control) => control.partner === null && saysSide(control.name, habits));
}
