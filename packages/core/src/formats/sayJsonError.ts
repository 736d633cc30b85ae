/** What is wrong with text that should be JSON, and where, in plain words; the engine's own words differ from browser to browser. */
export function sayJsonError(text: string, error: unknown): string {
  const message = (error as Error).message ?? "";
  if (/end of (JSON )?(input|data)|unterminated/i.test(message)) return "it ends in the middle";
  const at = Number(/position (\d+)/.exec(message)?.[1] ?? Number.NaN);
  if (!Number.isFinite(at)) return `it begins with "${text.trim().slice(0, 20)}", as no JSON does`;
  const before = text.slice(0, at).split("\n");
  return `it makes no sense from line ${before.length}, character ${before[before.length - 1].length + 1} on: "${text.slice(at, at + 20).trim()}"`;
}
