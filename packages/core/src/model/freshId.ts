let counter = 0;

/** A short id that is new on this machine: time, a count and chance. */
export function freshId(prefix: string): string {
  counter = (counter + 1) % 1296;
  const chance = Math.floor(Math.random() * 1679616)
    .toString(36)
    .padStart(4, "0");
  return `${prefix}-${Date.now().toString(36)}${counter.toString(36).padStart(2, "0")}${chance}`;
}
