/** Longest id that is kept of a name. */
const LONGEST = 200;

/** Names that every plain object answers to ("constructor"): as an id one would find what nobody put there. */
const isEveryObjects = (name: string) => name in Object.prototype;

/** Makes ids out of names: no dots, none twice ("arm", "arm 2", "arm 3"), none that every object has, and never empty. */
export function uniqueIds(): (name: string) => string {
  const used = new Set<string>();
  const count = new Map<string, number>();
  return (name) => {
    const plain = name.replaceAll(".", "_").trim().slice(0, LONGEST) || "unnamed";
    let id = plain;
    for (let n = (count.get(plain) ?? 1) + 1; used.has(id) || isEveryObjects(id); n++) {
      id = `${plain} ${n}`;
      count.set(plain, n);
    }
    used.add(id);
    return id;
  };
}
