/** Names in a sentence: "Head, Neck, Chest, Hips and 3 more". */
export function listed(names: readonly string[]): string {
  const few = names.slice(0, 4).join(", ");
  return names.length > 4 ? `${few} and ${names.length - 4} more` : few;
}

/** "1 key", "12 keys", "0 curves". */
export function countedWord(count: number, word: string, plural = `${word}s`): string {
  return `${count} ${count === 1 ? word : plural}`;
}
