import { useSelection } from "../../selection.ts";
import type { GapWish } from "./gapText.ts";
import { commitGaps, makeHold, removeHold } from "./poseEdits.ts";

/** The span between two neighbouring poses. */
export interface Gap {
  readonly from: number;
  readonly to: number;
}

/** Pick a gap, or let go of it; with `range` all from the one picked last. */
export function pickGap({ from: at }: Gap, gaps: readonly Gap[], range: boolean): void {
  const { gaps: now, pickGaps } = useSelection.getState();
  const last = now[now.length - 1];
  if (!range || last === undefined || now.includes(at)) {
    pickGaps(now.includes(at) ? now.filter((from) => from !== at) : [...now, at]);
    return;
  }
  const [low, high] = [Math.min(last, at), Math.max(last, at)];
  const between = gaps.filter(({ from }) => from >= low && from <= high).map(({ from }) => from);
  pickGaps([...new Set([...now, ...between])]);
}

/** What was typed on a gap: `together` are those that change with it, itself among them. Answers what else is worth saying. */
export function carryOutWish(
  wish: GapWish,
  gap: Gap,
  hold: boolean,
  together: readonly Gap[],
  gaps: readonly Gap[],
  ripple: boolean,
): Promise<string[]> {
  if (wish.kind === "no hold") return removeHold(gap.from, gap.to);
  if (wish.kind === "hold") return hold ? commitGaps([{ ...gap, frames: wish.frames }], ripple) : makeHold(gap.from, wish.frames);
  const at = gaps.findIndex(({ from }) => from === gap.from);
  // Several numbers on one gap are for it and those after it.
  const targets = together.length === 1 ? gaps.slice(at, at + wish.frames.length) : together;
  if (targets.length < wish.frames.length)
    throw new Error(`${wish.frames.length} gaps were typed and only ${targets.length} follow. The gaps stay as they are.`);
  return commitGaps(
    targets.map(({ from, to }, i) => ({ from, to, frames: wish.frames[i] })),
    ripple,
  );
}
