import { type Pass, type PassRange, WARP_FRAME, warpOver, warpPass, withPass } from "@kneader/core";
import { currentDocument, useDocuments } from "../../documents.ts";
import { changePass } from "../../edits.ts";
import { followPointer } from "../../followPointer.ts";
import { frameAt, useTimeAxis } from "../../timeAxis.ts";

export type Grip = "start" | "end" | "easeIn" | "easeOut" | "whole";

/** Drag an end, an ease or the whole of a pass, live: one step when let go, Esc gives up. */
export function dragBand(pass: Pass, range: PassRange, grip: Grip, { clientX }: React.PointerEvent): void {
  const shot = currentDocument();
  if (!shot) return;
  let next: Pass = pass;
  const { setPreview } = useDocuments.getState();
  followPointer({
    move(now) {
      const axis = useTimeAxis.getState();
      const by = Math.round(frameAt(axis, now.clientX - clientX) - frameAt(axis, 0));
      next = withRange(pass, dragRange(range, grip, by));
      setPreview(withPass(shot, pass.id, () => next));
    },
    done() {
      setPreview(null);
      const { range: span, curves } = next;
      if (next !== pass) changePass(pass.id, span === pass.range ? { curves } : { range: span });
    },
    cancel: () => setPreview(null),
  });
}

/** The pass over another range; a warp's curve is stretched to it. */
function withRange(pass: Pass, range: PassRange): Pass {
  const curve = pass.kind === warpPass.id ? pass.curves[WARP_FRAME] : undefined;
  return curve ? { ...pass, curves: { ...pass.curves, [WARP_FRAME]: warpOver(curve, range) } } : { ...pass, range };
}

function dragRange(range: PassRange, grip: Grip, by: number): PassRange {
  const length = range.end - range.start;
  const clampEase = (r: PassRange): PassRange => {
    const span = r.end - r.start;
    return { ...r, easeIn: Math.min(r.easeIn, span), easeOut: Math.min(r.easeOut, span) };
  };
  if (grip === "start") return clampEase({ ...range, start: Math.min(range.end - 1, range.start + by) });
  if (grip === "end") return clampEase({ ...range, end: Math.max(range.start + 1, range.end + by) });
  if (grip === "easeIn") return { ...range, easeIn: Math.min(length, Math.max(0, range.easeIn + by)) };
  if (grip === "easeOut") return { ...range, easeOut: Math.min(length, Math.max(0, range.easeOut - by)) };
  return { ...range, start: range.start + by, end: range.end + by };
}
