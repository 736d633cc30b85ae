import { distance } from "fastest-levenshtein";

/** ` Did you mean "…"?` where one of the names is near to what was written; else nothing. */
export function didYouMean(written: string, names: readonly string[]): string {
  const plain = (text: string) => text.toLowerCase().replaceAll(/[\s_-]/g, "");
  const near = names
    .map((name) => ({
      name,
      off: plain(name).startsWith(plain(written)) && written.length > 2 ? 0 : distance(plain(written), plain(name)),
    }))
    .sort((a, b) => a.off - b.off)[0];
  return near && near.off <= Math.max(written.length > 3 ? 2 : 1, Math.floor(written.length / 3)) ? ` Did you mean "${near.name}"?` : "";
}
