import { distance } from "fastest-levenshtein";
import { spelt } from "./spelling.ts";

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
    .filter(Boolean)
    .map(spelt);

/** How well a typed word fits a list of words: 2 for one of them, 1 for the beginning of one, 0 for neither. Insides do not count: "lean" is not in "clean". */
function fitOf(typed: string, words: readonly string[]): number {
  if (words.includes(typed) || words.includes(`${typed}s`) || (typed.endsWith("s") && words.includes(typed.slice(0, -1)))) return 2;
  return words.some((word) => word.startsWith(typed)) ? 1 : 0;
}

/** How well each typed word fits. A word of the title counts more than another word for it, and that more than one of the help. */
function fits(typed: readonly string[], { title, words, help = "" }: Findable): number[] {
  const [inTitle, inWords, inHelp] = [split(title), split(words), split(help)];
  return typed.map((word) => Math.max(20 * fitOf(word, inTitle), 9 * fitOf(word, inWords), 1 * fitOf(word, inHelp)));
}

/** The higher the better; 0 where no typed word is there. What has more of the words comes first. */
function score(typed: readonly string[], all: readonly number[], { title }: Findable): number {
  const found = all.filter((fit) => fit > 0).length;
  if (found === 0) return 0;
  const total = all.reduce((sum, fit) => sum + fit, 0);
  const inTitle = split(title);
  // Of two that fit alike the one whose title says little else.
  const own = total + (inTitle[0]?.startsWith(typed[0]) ? 5 : 0) - inTitle.length * 0.1;
  return own * (found / all.length) ** 4;
}

/** What fits the typed words, best first; everything, in its own order, where nothing is typed. A word that nothing knows is passed over. */
export function findByWords<Item extends Findable>(items: readonly Item[], text: string): Item[] {
  const all = split(text);
  if (all.length === 0) return [...items];
  const telling = all.filter((word) => !small.has(word));
  const typed = telling.length > 0 ? telling : all;
  const rows = items.map((item) => fits(typed, item));
  // Numbers say how much, not what.
  const known = typed.map((word, n) => !/^\d+$/.test(word) && rows.some((row) => row[n] > 0));
  const told = known.some(Boolean) ? known : typed.map((_, n) => rows.some((row) => row[n] > 0));
  const words = typed.filter((_, n) => told[n]);
  if (words.length === 0) return [];
  return items
    .map((item, at) => ({
      item,
      at,
      score:
        score(
          words,
          rows[at].filter((_, n) => told[n]),
          item,
        ) * (item.aside && !split(item.title).every((word) => small.has(word) || words.includes(word)) ? 0.01 : 1),
    }))
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
