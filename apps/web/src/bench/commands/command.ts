/** Something that can be found by words and given a shortcut. */
export interface Command {
  readonly id: string;
  readonly title: string;
  /** Other words for it, such as people of the trade may type. */
  readonly words: string;
  /** One sentence. */
  readonly help?: string;
  /** It stands after whatever else fits the same words. */
  readonly aside?: true;
  /** Why it cannot be done now; null when it can. */
  missing?(): string | null;
  run(): void;
}
