/** Do all the words stand in the name? "tail rot y" finds Tail 2 rotate Y. */
export function matchesWords(name: string, words: string): boolean {
  const lower = name.toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((word) => lower.includes(word));
}
