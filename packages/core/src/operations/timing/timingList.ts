import { sampleCurve } from "../../curve/track.ts";
import { KneaderError } from "../../errors.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import type { Scope } from "../operation.ts";
import { findPoses } from "../poses/poses.ts";
import { curvesInScope } from "../shared/scope.ts";

/** The way from one pose to the next. */
export interface TimingStep {
  readonly frames: number;
  /** Nothing moves on the way. */
  readonly hold: boolean;
}

const LONGEST_GAP = 100000;

/** The key poses of a scope and the steps between them. `share` (0..1) as for `findPoses`. */
export function timingOf(shot: Shot, scope: Scope, share: number): { poses: number[]; steps: TimingStep[] } {
  const poses = findPoses(shot, scope, share).map(({ frame }) => frame);
  const curves = curvesInScope(shot, scope).map((key) => layerCurves(shot, scope.layer)[key]);
  const steps = poses.slice(1).map((to, i): TimingStep => {
    const from = poses[i];
    const still = curves.every((curve) => {
      const value = sampleCurve(curve, from);
      return [0.25, 0.5, 0.75, 1].every((share) => Math.abs(sampleCurve(curve, from + (to - from) * share) - value) < 1e-9);
    });
    return { frames: to - from, hold: still };
  });
  return { poses, steps };
}

/** Steps as an animator's chart: "6 4 3 · hold 8 · 4". */
export function sayTiming(steps: readonly TimingStep[]): string {
  let text = "";
  steps.forEach(({ frames, hold }, i) => {
    const apart = i === 0 ? "" : hold || steps[i - 1].hold ? " · " : " ";
    text += `${apart}${hold ? "hold " : ""}${frames}`;
  });
  return text;
}

/** How many steps of a long chart are worth reading in a sentence. */
const FEW = 12;

/** The same shortened for a sentence: "1 1 1 … (119 gaps)". */
export function sayTimingBriefly(steps: readonly TimingStep[]): string {
  return steps.length <= FEW ? sayTiming(steps) : `${sayTiming(steps.slice(0, FEW))} … (${steps.length} gaps)`;
}

/** Read such a chart. Dots, commas and bars between steps are for the eye only. Errors: `bad-setting`, with the word that makes no sense. */
export function readTiming(text: string): TimingStep[] {
  const words = text.split(/[\s·,|;]+/).filter(Boolean);
  const steps: TimingStep[] = [];
  for (let i = 0; i < words.length; i++) {
    const hold = /^hold$/i.test(words[i]);
    const word = hold ? words[++i] : words[i];
    const frames = Number(word);
    if (word === undefined || !Number.isInteger(frames) || frames < 1 || frames > LONGEST_GAP)
      throw new KneaderError(
        "bad-setting",
        `Timing list: ${word === undefined ? '"hold" is the last word' : `"${word}" is no number of frames`}.`,
        `A gap is a whole number from 1 to ${LONGEST_GAP}, a hold is "hold 8".`,
      );
    steps.push({ frames, hold });
  }
  return steps;
}
