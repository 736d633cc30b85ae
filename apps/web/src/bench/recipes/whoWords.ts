import { BASE, type RecipeStep, sayWho, type Shot } from "@kneader/core";

type Who = RecipeStep["who"];

/** What must hold of whom a step is for, one word each: "part legs", "name tail*". */
export function wordsOf(who: Who): string[] {
  return [
    ...(who.part === undefined ? [] : [`part ${who.part}`]),
    ...(who.names ?? []).map((name) => `name ${name}`),
    ...(who.side === undefined ? [] : [`side ${who.side}`]),
    ...(who.moves ? ["moves"] : []),
    ...(who.picked ? ["picked"] : []),
  ];
}

/** The query that such words mean; of two parts or sides the later counts, and what is none of them is a name. */
export function whoOf(words: readonly string[]): Who {
  let who: Who = {};
  for (const word of words) {
    const [kind, ...rest] = word.split(" ");
    const told = rest.join(" ").trim();
    if (kind === "part" && told) who = { ...who, part: told };
    else if (kind === "side" && (told === "left" || told === "right" || told === "middle")) who = { ...who, side: told };
    else if (word === "moves") who = { ...who, moves: true };
    else if (word === "picked") who = { ...who, picked: true };
    else {
      const name = kind === "name" ? told : word.trim();
      if (name) who = { ...who, names: [...new Set([...(who.names ?? []), name])] };
    }
  }
  return who;
}

/** A word as it is shown, for instance "on the left". */
export const sayWord = (word: string): string => sayWho(whoOf([word]));

/** The words that are offered for a figure with these parts. */
export function wordsFor(parts: readonly string[]): string[] {
  const whos: Who[] = [
    { picked: true },
    { moves: true },
    ...parts.map((part) => ({ part })),
    { side: "left" },
    { side: "right" },
    { side: "middle" },
  ];
  return whos.flatMap(wordsOf);
}

/** Layers a step may work in, the one it says among them. */
export function layersFor(shot: Shot, own: string): { value: string; label: string }[] {
  const names = [...new Set([...shot.passes.map(({ name }) => name), ...(own === BASE || own === "top" ? [] : [own])])];
  return [
    { value: BASE, label: "the base" },
    { value: "top", label: "the topmost pass" },
    ...names.map((name) => ({ value: name, label: `the pass "${name}"` })),
  ];
}
