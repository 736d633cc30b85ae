let counter = 0;
/** Where ids follow from a text: its number (FNV-1a). */
let seed: string | null = null;

/** A short id that is new on this machine: time, a count and chance; or what follows from a text (see `idsFrom`). */
export function freshId(prefix: string): string {
  counter++;
  if (seed !== null) return `${prefix}-${seed}${counter.toString(36)}`;
  const count = (counter % 1296).toString(36).padStart(2, "0");
  const chance = Math.floor(Math.random() * 1679616)
    .toString(36)
    .padStart(4, "0");
  return `${prefix}-${Date.now().toString(36)}${count}${chance}`;
}

/**
 * From now on ids follow from a text and a count, for a process that does one thing after another and nothing else: the
 * same work then writes the same bits, on whatever machine and in whatever order.
 */
export function idsFrom(text: string): void {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0;
  seed = `${hash.toString(36)}x`;
  counter = 0;
}
