import { z } from "zod";
import type { ChannelKey } from "./rig.ts";

/**
 * One recorded performance: by channel, how far it is from the motion below, a value at each whole frame from `start` on.
 * All columns are as long as each other.
 */
export const takeSchema = z.object({
  id: z.string().min(1),
  name: z.string(),
  start: z.number().int(),
  values: z.record(z.string(), z.array(z.number()).min(1).max(1_000_000).readonly()).readonly(),
});
export interface Take {
  readonly id: string;
  readonly name: string;
  readonly start: number;
  readonly values: Readonly<Record<ChannelKey, readonly number[]>>;
}

/** A span of another take that is put in place of what the chosen one has there. */
export const joinSchema = z.object({ take: z.string(), start: z.number(), end: z.number() });
export type Join = z.infer<typeof joinSchema>;

/** The last frame of a take. */
export const lastFrame = ({ start, values }: Take): number => start + Math.max(0, ...Object.values(values).map(({ length }) => length)) - 1;

/** Over how many frames one take goes over into another at either end of a joined span. */
const SEAM = 3;

/**
 * A take with spans of others in it, later ones over earlier ones; each comes and goes over a few frames within its span.
 * Channels only the other has are kept as the chosen one has them: not at all.
 */
export function joinedTake(takes: readonly Take[], chosen: string, joins: readonly Join[]): Take | null {
  const take = takes.find(({ id }) => id === chosen);
  if (!take) return null;
  const values = Object.fromEntries(Object.entries(take.values).map(([key, column]) => [key, [...column]]));
  for (const { take: other, start, end } of joins) {
    const from = takes.find(({ id }) => id === other);
    if (!from) continue;
    for (const [key, column] of Object.entries(values)) {
      const theirs = from.values[key];
      if (!theirs) continue;
      for (let frame = Math.max(start, take.start, from.start); frame <= Math.min(end, lastFrame(take), lastFrame(from)); frame++) {
        // At the ends of a whole take there is nothing to come from or go to.
        const into = start <= take.start ? 1 : (frame - start + 1) / (SEAM + 1);
        const out = end >= lastFrame(take) ? 1 : (end - frame + 1) / (SEAM + 1);
        const share = Math.min(1, into, out);
        const n = frame - take.start;
        column[n] += (theirs[frame - from.start] - column[n]) * share;
      }
    }
  }
  return { ...take, values };
}
