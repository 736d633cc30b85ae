import {
  type ChannelKey,
  type Curve,
  isBroken,
  keyAt,
  keyOn,
  layerCurves,
  operations,
  sampleCurve,
  type Shot,
  unionOfTimes,
  WHOLE_FIGURE,
} from "@kneader/core";
import { usePreferences } from "../../../app/preferences.ts";
import { currentDocument, useDocuments } from "../../documents.ts";
import { performOrTell } from "../../perform.ts";
import { followPointer } from "../../followPointer.ts";
import { useSelection } from "../../selection.ts";
import { frameAt } from "../../timeAxis.ts";
import { followKeys } from "../plot/dragKeys.ts";
import { dragMap } from "../plot/dragRules.ts";
import { type Grip, gripMap, type KeyBox } from "../plot/keyBox.ts";
import type { Spot } from "../plot/pickBox.ts";
import { type CurveAxes, handleAt, handlePlace } from "./curveView.ts";
import { valueAt } from "./valueAxis.ts";

/** What presses on the curve tray take hold of, and what dragging it then does. */

type Curves = readonly { key: ChannelKey; curve: Curve }[];
type Picks = Readonly<Record<ChannelKey, readonly number[]>>;
type Where = (event: PointerEvent) => Spot;

/** How near (pixels) a side must come to a key to be drawn to it. */
const PULL = 8;

interface HandleHit {
  readonly key: ChannelKey;
  readonly index: number;
  readonly side: "in" | "out";
}

/** The handle of a picked key under the pointer. */
export function hitHandle(curves: Curves, picked: Picks, { x, y }: Spot, axes: CurveAxes): HandleHit | null {
  for (const { key, curve } of curves)
    for (const time of picked[key] ?? []) {
      const index = keyOn(curve, time);
      if (index < 0) continue;
      for (const side of ["in", "out"] as const) {
        const end = handlePlace(curve, index, side, axes);
        if (end && Math.hypot(end.x - x, end.y - y) < 7) return { key, index, side };
      }
    }
  return null;
}

/** Times that a drag may snap to: those of keys that do not come along. */
function stillTimes(curves: Curves, picked: Picks): Float64Array {
  return unionOfTimes(
    curves.map(({ key, curve }) => {
      const along = new Set(picked[key]);
      return along.size === 0 ? curve.times : curve.times.filter((time) => !along.has(time));
    }),
  );
}

/** Drag the picked keys; `grabbed` is the frame of the one under the pointer. Shift holds to one direction. */
export function dragKeys(start: Spot, at: Where, grabbed: number, curves: Curves, axes: CurveAxes): void {
  const rules = usePreferences.getState();
  const keys = rules.toKeys ? stillTimes(curves, useSelection.getState().keys) : new Float64Array(0);
  const reach = ((axes.end - axes.start) / axes.width) * PULL;
  let begun = false;
  followKeys("Move", (event) => {
    const now = at(event);
    const [x, y] = [now.x - start.x, now.y - start.y];
    begun ||= Math.hypot(x, y) >= 3;
    if (!begun) return null;
    const straight = event.shiftKey ? (Math.abs(x) > Math.abs(y) ? "time" : "value") : null;
    const by = { frames: frameAt(axes, now.x) - frameAt(axes, start.x), amount: valueAt(axes, now.y) - valueAt(axes, start.y) };
    return dragMap(by, grabbed, rules, straight, keys, reach);
  });
}

/** Drag a side or a corner of the box around the picked keys. Alt: about its middle. */
export function dragGrip(box: KeyBox, grip: Grip, start: Spot, at: Where, curves: Curves, axes: CurveAxes): void {
  const rules = usePreferences.getState();
  const keys = rules.toKeys ? stillTimes(curves, useSelection.getState().keys) : new Float64Array(0);
  const reach = ((axes.end - axes.start) / axes.width) * PULL;
  followKeys("Scale", (event) => {
    const now = at(event);
    const by = { frames: frameAt(axes, now.x) - frameAt(axes, start.x), amount: valueAt(axes, now.y) - valueAt(axes, start.y) };
    return gripMap(box, grip, by, rules, event.altKey, keys, reach);
  });
}

/** Drag a handle. Both sides turn together unless they are broken, or Alt breaks them now. With Shift the handle's length counts too. */
export function dragHandle(hit: HandleHit, at: Where, shot: Shot, layer: string, axes: CurveAxes): void {
  const { setPreview } = useDocuments.getState();
  const curve = layerCurves(shot, layer)[hit.key];
  const scope = { ...WHOLE_FIGURE, layer };
  let last: Parameters<typeof operations.dragHandle.run>[2] | null = null;
  followPointer({
    move(event) {
      const { x, y } = at(event);
      const { slope, weight } = handleAt(curve, hit.index, hit.side, x, y, axes);
      const together = !isBroken(keyAt(curve, hit.index)) && !event.altKey;
      const kept = hit.side === "in" ? curve.weightIn[hit.index] : curve.weightOut[hit.index];
      const frame = curve.times[hit.index];
      last = { channel: hit.key, frame, side: hit.side, slope, weight: event.shiftKey ? weight : kept, together };
      setPreview(operations.dragHandle.run(shot, scope, last).shot);
    },
    done() {
      setPreview(null);
      if (last && currentDocument() === shot) performOrTell(operations.dragHandle, last, scope);
    },
    cancel: () => setPreview(null),
  });
}

/** A key where a curve was double-clicked; the curve stays what it was. */
export function insertKeyAt({ x, y }: Spot, curves: Curves, layer: string, axes: CurveAxes): void {
  const frame = Math.round(frameAt(axes, x));
  const near = curves
    .map(({ key, curve }) => ({ key, off: Math.abs(valueAt(axes, y) - sampleCurve(curve, frame)) }))
    .sort((a, b) => a.off - b.off)[0];
  if (!near || (near.off / (axes.high - axes.low)) * axes.height > 24) return;
  if (performOrTell(operations.insertKey, { channel: near.key, frame }, { ...WHOLE_FIGURE, layer }))
    useSelection.getState().pickKeys({ [near.key]: [frame] });
}
