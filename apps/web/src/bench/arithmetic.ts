/**
 * A number as typed into a field: "12.5" sets it, "+3" and "-=3" change it, "*1.2" and "/2" scale it,
 * and "6*4" is worked out. Null when it makes no sense.
 */
export function typedNumber(text: string, present: number): number | null {
  const clean = text
    .trim()
    .replace(",", ".")
    .replace(/[°%a-z\s]+$/i, "");
  if (clean === "") return null;
  const change = /^(\+=?|-=|\*=?|\/=?)\s*(.+)$/.exec(clean);
  if (change) {
    const by = sum(change[2]);
    if (by === null) return null;
    const result =
      change[1][0] === "+" ? present + by : change[1][0] === "-" ? present - by : change[1][0] === "*" ? present * by : present / by;
    return Number.isFinite(result) ? result : null;
  }
  return sum(clean);
}

/** Plus, minus, times and divided by, from left to right with the usual order. */
function sum(text: string): number | null {
  const parts = text.match(/(?:^|(?<=[+\-*/]))\s*-?\d*\.?\d+(?:e-?\d+)?|[+\-*/]/gi);
  if (!parts || parts.join("").replace(/\s/g, "") !== text.replace(/\s/g, "")) return null;
  const terms: number[] = [Number(parts[0])];
  for (let i = 1; i + 1 < parts.length + 1 && i < parts.length; i += 2) {
    const value = Number(parts[i + 1]);
    if (Number.isNaN(value)) return null;
    const sign = parts[i];
    if (sign === "+") terms.push(value);
    else if (sign === "-") terms.push(-value);
    else {
      const last = terms.pop() as number;
      terms.push(sign === "*" ? last * value : last / value);
    }
  }
  const total = terms.reduce((a, b) => a + b, 0);
  return Number.isFinite(total) ? total : null;
}
