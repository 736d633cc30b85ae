/** Words that are written otherwise on the other side of the ocean and follow no rule. */
const others: Readonly<Record<string, string>> = {
  center: "centre",
  centers: "centres",
  centered: "centred",
  meter: "metre",
  meters: "metres",
  gray: "grey",
  mocap: "capture",
};

const endings: readonly (readonly [RegExp, string])[] = [
  [/^(col|fav|neighb|behavi|harb|flav|lab|rum|arm)or(s|ed|ing|ite|able)?$/, "$1our$2"],
  [/([a-z]{3,})iz(e|es|ed|er|ers|ing|ation)$/, "$1is$2"],
];

/** A word as it is written here, however it was spelt: "color" is "colour", "normalize" is "normalise". */
export function spelt(word: string): string {
  const known = others[word];
  if (known) return known;
  for (const [pattern, put] of endings) if (pattern.test(word)) return word.replace(pattern, put);
  return word;
}
