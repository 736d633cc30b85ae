/** Names in a sentence: "Head, Neck, Chest, Hips and 3 more". */
export function listed(names: readonly string[]): string {
  const few = names.slice(0, 4).join(", ");
  return names.length > 4 ? `${few} and ${names.length - 4} more` : few;
}

/** "1 key", "12 keys", "0 curves", "178 801 keys". */
export function countedWord(count: number, word: string, plural = `${word}s`): string {
  return `${grouped(count)} ${count === 1 ? word : plural}`;
}

/** A whole number of five digits or more in threes. */
const grouped = (count: number): string => (Math.abs(count) < 10_000 ? String(count) : String(count).replace(/\B(?=(\d{3})+$)/g, " "));

/** Verbs with which summaries of what was done begin, and how they are said of what will be. */
const verbs: Readonly<Record<string, string>> = {
  Did: "do",
  Added: "add",
  Aimed: "aim",
  Applied: "apply",
  Baked: "bake",
  "Cleaned:": "clean:",
  Closed: "close",
  Fitted: "fit",
  Held: "hold",
  Inserted: "insert",
  Locked: "lock",
  Matched: "match",
  Mended: "mend",
  Mirrored: "mirror",
  Moved: "move",
  Pasted: "paste",
  Planted: "plant",
  Recorded: "record",
  Opened: "open",
  Removed: "remove",
  Resampled: "resample",
  Reversed: "reverse",
  Saved: "save",
  Laid: "lay",
  Told: "tell",
  Gave: "give",
  Changed: "change",
  Scaled: "scale",
  Shifted: "shift",
  Simplified: "simplify",
  Smoothed: "smooth",
  Staggered: "stagger",
  Swapped: "swap",
  Switched: "switch",
  Tied: "tie",
  Tuned: "tune",
  Turned: "turn",
  Untwisted: "untwist",
};

/** A summary of what was done as it is said before: "Reversed frames 1 to 46" → "Will reverse frames 1 to 46". What speaks of no deed stays. */
export function willBe(summary: string): string {
  const [first, ...rest] = summary.split(" ");
  return first in verbs ? ["Will", verbs[first], ...rest].join(" ") : summary;
}
