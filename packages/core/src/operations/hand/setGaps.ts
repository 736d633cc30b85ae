import { z } from "zod";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { setGap } from "../timing/setGap.ts";

const settings = z.object({
  gaps: z.array(z.object({ from: z.number().int(), to: z.number().int(), gap: z.number().int().min(1) })),
  ripple: z.boolean().default(true),
});

/** Several gaps typed or dragged at once: the last first, so that none moves the place of another. */
export const setGaps: Operation<z.infer<typeof settings>> = {
  id: "set-gaps",
  title: "Set gaps",
  group: "By hand",
  help: "Changes the frames between several pairs of poses.",
  words: "",
  settings,
  async run(shot, scope, { gaps, ripple }, context) {
    let now = shot;
    const warnings: string[] = [];
    for (const { from, to, gap } of [...gaps].sort((a, b) => b.from - a.from)) {
      if (gap === to - from) continue;
      const { shot: after, report } = await setGap.run(now, scope, { from, to, gap, ripple }, context);
      now = after;
      warnings.push(...report.warnings);
    }
    const list = (frames: readonly number[]) => frames.join(" ");
    const summary = `Gaps ${list(gaps.map(({ from, to }) => to - from))} → ${list(gaps.map(({ gap }) => gap))}`;
    return outcome(shot, now, summary, { warnings });
  },
};
