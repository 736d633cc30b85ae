import type { Curve } from "../../curve/curve.ts";
import { KneaderError } from "../../errors.ts";
import { checkAllButCurves, checkCurve, checkSize, checkSpan } from "../../formats/checkShot.ts";
import { LARGEST_MADE } from "../../formats/limits.ts";
import { controlById } from "../../model/rig.ts";
import { BASE, layerOf, type Shot } from "../../model/shot.ts";
import { allCurves } from "../../model/shotFields.ts";
import type { Scope } from "../operation.ts";

/** The same error in the words of the operation. */
function inWordsOf(title: string, work: () => void, remedy: string): void {
  try {
    work();
  } catch (error) {
    if (!(error instanceof KneaderError)) throw error;
    throw new KneaderError("bad-setting", `${title}: ${error.message}`, remedy);
  }
}

/** Refuse a scope that names what is not there, or frames that are none. Errors: `not-found`, `bad-setting`. */
export function checkScope(shot: Shot, { layer, controls, range, keys }: Scope, title: string): void {
  if (layer !== BASE && !layerOf(shot, layer))
    throw new KneaderError("not-found", `${title}: the shot has no pass "${layer}".`, "Choose a pass that is there, or base motion.");
  for (const id of controls ?? [])
    if (!controlById(shot.rig, id))
      throw new KneaderError("not-found", `${title}: the rig has no control "${id}".`, "Pick controls that are there.");
  if (range !== null) inWordsOf(title, () => checkSpan(range.start, range.end, "the marked range"), "Mark another range.");
  for (const times of Object.values(keys ?? {}))
    if (!times.every(Number.isFinite))
      throw new KneaderError("bad-setting", `${title}: a picked key is at no frame.`, "Pick the keys again.");
}

const samplesOf = ({ rig, range }: Shot): number => rig.controls.length * (range.end - range.start + 1);

/** Refuse a result with numbers that cannot be played or kept. Errors: `bad-setting`. */
export function checkResult(before: Shot, after: Shot, title: string): void {
  if (before === after) return;
  const remedy = "Choose smaller numbers.";
  inWordsOf(title, () => checkAllButCurves(after), remedy);
  // What came so long may go on; nothing is made too long to be exported.
  if (samplesOf(after) > samplesOf(before)) inWordsOf(title, () => checkSize(after), "Choose fewer frames.");
  const known = new Set<Curve>();
  for (const [, curve] of allCurves(before)) known.add(curve);
  for (const [where, curve] of allCurves(after))
    if (!known.has(curve))
      inWordsOf(title, () => checkCurve(curve, `curve "${where.slice(where.lastIndexOf("/") + 1)}"`, LARGEST_MADE), remedy);
}
