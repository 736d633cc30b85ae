/** What came of something that was done many times under attack. */
export interface Outcome {
  /** How often it was done. */
  readonly times: number;
  /** Of what: what was acknowledged and looked for again afterwards. */
  readonly kept: string;
  /** What should not have happened, a sentence each; none is what is hoped for. */
  readonly faults: readonly string[];
}

/** One kind of attack. `say` tells how far it is. */
export interface Trial {
  readonly id: string;
  readonly title: string;
  run(times: number, say: (text: string) => void): Promise<Outcome>;
}

export const wait = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));
export const between = (least: number, most: number) => least + Math.random() * (most - least);
