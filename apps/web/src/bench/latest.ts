/**
 * What was worked out for the things that were asked about last. Shots that can be gone back to live as long as their steps, and
 * a thousand of them would hold a thousand players: what is not looked at any more is let go of and made anew when it is.
 */
export class Latest<Thing extends object, Value> {
  private readonly values = new Map<Thing, Value>();
  private readonly most: number;

  constructor(most: number) {
    this.most = most;
  }

  get(thing: Thing): Value | undefined {
    const value = this.values.get(thing);
    if (value === undefined) return undefined;
    // The one asked about last stands at the end.
    this.values.delete(thing);
    this.values.set(thing, value);
    return value;
  }

  set(thing: Thing, value: Value): void {
    this.values.delete(thing);
    this.values.set(thing, value);
    if (this.values.size <= this.most) return;
    for (const oldest of this.values.keys()) {
      this.values.delete(oldest);
      return;
    }
  }
}
