import { costs, type Judged, judgedBy, motionOf, type Shot } from "@kneader/core";
import { shownDocument } from "../../documents.ts";
import type { ShownStrain } from "../../tune/strainRows.ts";

const judges = new WeakMap<Shot, Map<string, Judged>>();
const motions = new WeakMap<Shot, { readonly judged: Judged; readonly motion: Judged["motion"] }>();

/** Costs made ready for a shot as it was before it is tuned: what stands and what is its range is found there. */
function judgedOnce(shot: Shot, start: number, count: number): Judged {
  const known = judges.get(shot) ?? new Map<string, Judged>();
  judges.set(shot, known);
  const key = `${start} ${count}`;
  const judged = known.get(key) ?? judgedBy(shot, costs, start, count);
  known.set(key, judged);
  return judged;
}

/** What is wrong at a frame of the motion that is shown, by some costs, in words. */
export function explain(shot: Shot, { start, rows }: ShownStrain, wanted: readonly string[], frame: number): string {
  const shown = shownDocument() ?? shot;
  const judged = judgedOnce(shot, start, rows[0]?.after.length ?? 1);
  let last = motions.get(shown);
  if (last?.judged !== judged) {
    last = { judged, motion: motionOf(shown, judged.subject, judged) };
    motions.set(shown, last);
  }
  const { motion } = last;
  const said = judged.judges.flatMap((judge, n) => (wanted.includes(judged.costs[n].id) ? [judge.say(motion, frame - start)] : []));
  return said.filter(Boolean).join("; ");
}
