/** The first sentence of several, and the others; one that ends with a number goes on. */
export function firstSentence(text: string): { readonly first: string; readonly others: string } {
  const end = /[.!?](?=\s+\S)/.exec(text)?.index;
  return end === undefined ? { first: text, others: "" } : { first: text.slice(0, end + 1), others: text.slice(end + 1).trim() };
}
