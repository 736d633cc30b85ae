import { type Cost, costs, type StrainRow } from "@kneader/core";
import { useWork } from "../work/workStore.ts";

/** What is known of the strain while a motion is tuned. */
export interface ShownStrain {
  /** The first frame. */
  readonly start: number;
  readonly rows: readonly StrainRow[];
}

/** The strain of what is tried, once something is. */
export function useStrain(): ShownStrain | null {
  return useWork((state) => state.outcome?.report.strain ?? null);
}

export const costById = (id: string): Cost | undefined => costs.find((cost) => cost.id === id);

/** How bad a strain is to look at: 0 none, 1 very; what is just seen is a fifth. */
export function badness(strain: number, seen: number): number {
  return 1 - Math.exp((-0.22 * strain) / seen);
}

/** All that counts together, by its weight, as a strain of which 1 is just seen. */
export function sumOf({ rows }: ShownStrain, when: "before" | "after"): Float64Array {
  const counted = rows.filter(({ weight }) => weight > 0);
  const frames = counted[0]?.[when].length ?? 0;
  const whole = counted.reduce((sum, { weight }) => sum + weight, 0) || 1;
  return Float64Array.from({ length: frames }, (_, f) =>
    Math.sqrt(counted.reduce((sum, row) => sum + row.weight * (row[when][f] / row.seen) ** 2, 0) / whole),
  );
}

/** The place of the largest of some numbers. */
export function worstOf(values: Float64Array): number {
  let worst = 0;
  for (let f = 1; f < values.length; f++) if (values[f] > values[worst]) worst = f;
  return worst;
}

/** By how much a strain has changed on average: "−93 %"; nothing where there was none. */
export function sayChange({ before, after }: StrainRow): string {
  const mean = (values: Float64Array) => values.reduce((sum, one) => sum + one, 0);
  const [was, is] = [mean(before), mean(after)];
  if (!(was > 0)) return "";
  const percent = Math.round((is / was - 1) * 100);
  return percent === 0 ? "±0 %" : `${percent < 0 ? "−" : "+"}${Math.abs(percent)} %`;
}
