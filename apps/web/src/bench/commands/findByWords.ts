import { distance } from "fastest-levenshtein";

/** What can be looked for. */
export interface Findable {
  readonly title: string;
  readonly words: string;
  readonly help?: string;
  readonly aside?: true;
}

/** Words that say nothing by themselves. */
const small = new Set(["a", "an", "the", "to", "of", "my", "in", "on", "it", "this", "how", "do", "i", "with", "for", "and", "or", "out"]);

const split = (text: string) =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/** How well a typed word fits a list of words: 2 for one of them, 1 for the beginning of one, 0 for neither. Insides do not count: "lean" is not in "clean". */
function fitOf(typed: string, words: readonly string[]): number {
  if (words.includes(typed) || words.includes(`${typed}s`) || (typed.endsWith("s") && words.includes(typed.slice(0, -1)))) return 2;
  return words.some((word) => word.startsWith(typed)) ? 1 : 0;
}

/** The higher the better; 0 where some typed word is nowhere. A word of the title counts more than another word for it, and that more than one of the help. */
function score(typed: readonly string[], { title, words, help = "" }: Findable): number {
  const [inTitle, inWords, inHelp] = [split(title), split(words), split(help)];
  let total = 0;
  for (const word of typed) {
    const best = Math.max(20 * fitOf(word, inTitle), 9 * fitOf(word, inWords), 1 * fitOf(word, inHelp));
    if (best === 0) return 0;
    total += best;
  }
  // Of two that fit alike the one whose title says little else.
  return total + (inTitle[0] !== undefined && typed[0] !== undefined && inTitle[0].startsWith(typed[0]) ? 5 : 0) - inTitle.length * 0.1;
}

/** What fits the typed words, best first; everything, in its own order, where nothing is typed. */
export function findByWords<Item extends Findable>(items: readonly Item[], text: string): Item[] {
  const all = split(text);
  if (all.length === 0) return [...items];
  const telling = all.filter((word) => !small.has(word));
  const typed = telling.length > 0 ? telling : all;
  return items
    .map((item, at) => ({ item, at, score: score(typed, item) * (item.aside ? 0.01 : 1) }))
    .filter((one) => one.score > 0)
    .sort((a, b) => b.score - a.score || a.at - b.at)
    .map(({ item }) => item);
}

/** The few whose words look most like what was typed, where nothing has that name. */
export function nearestByWords<Item extends Findable>(items: readonly Item[], text: string, count = 3): Item[] {
  const typed = split(text).filter((word) => !small.has(word));
  const far = ({ title, words }: Findable) => {
    const known = split(`${title} ${words}`);
    const away = (word: string) => Math.min(...known.map((other) => distance(word, other) / Math.max(word.length, other.length)));
    return typed.reduce((sum, word) => sum + away(word), 0);
  };
  return [...items]
    .map((item) => ({ item, far: far(item) }))
    .sort((a, b) => a.far - b.far)
    .slice(0, count)
    .map(({ item }) => item);
}
