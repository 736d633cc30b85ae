import { type ChannelKey, type LiveResult, liveResult, operations, sayError, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { currentDocument, useDocuments } from "../../documents.ts";
import { tell } from "../../notices.ts";
import { followPointer } from "../../followPointer.ts";
import { clock } from "../../clock.ts";
import { pacedPreview } from "../../pacedPreview.ts";
import { performOrTell } from "../../perform.ts";
import { useSelection } from "../../selection.ts";
import { frameAt } from "../../timeAxis.ts";
import type { Spot } from "../plot/pickBox.ts";
import type { CurveAxes } from "./curveView.ts";
import type { DrawnCurve } from "./drawCurves.ts";
import { valueAt, yOf } from "./valueAxis.ts";

/** How near (pixels) a press must be to a result to take hold of it. */
const NEAR = 6;

interface ResultHit {
  readonly key: ChannelKey;
  readonly frame: number;
  readonly value: number;
}

/** The result line under the pointer, at the nearest whole frame. */
export function hitResult(curves: readonly DrawnCurve[], { x, y }: Spot, axes: CurveAxes): ResultHit | null {
  const frame = Math.round(frameAt(axes, x));
  for (const { key, whole, locked } of curves) {
    const value = whole && !locked ? whole.result[frame - whole.start] : undefined;
    if (value !== undefined && Math.abs(yOf(axes, value) - y) < NEAR) return { key, frame, value };
  }
  return null;
}

/** Drag the result up or down: the chosen layer is keyed there with the difference. */
export function dragResult(
  hit: ResultHit,
  start: Spot,
  at: (event: PointerEvent) => Spot,
  shot: Shot,
  layer: string,
  axes: CurveAxes,
): void {
  const preview = pacedPreview();
  const { setLive } = useDocuments.getState();
  let live: LiveResult | null = null;
  // Within a chosen range a pass is nudged: its ends are locked.
  const { range } = useSelection.getState();
  const scope = { ...WHOLE_FIGURE, layer, range };
  let last: { frame: number; values: Record<ChannelKey, number> } | null = null;
  let problem: string | null = null;
  const stop = () => {
    setLive(null);
    preview.stop();
  };
  followPointer({
    move(event) {
      const by = valueAt(axes, at(event).y) - valueAt(axes, start.y);
      try {
        const wanted = { frame: hit.frame, values: { [hit.key]: hit.value + by } };
        const keyed = () => operations.keyPulled.run(shot, scope, wanted).shot;
        live ??= liveResult(shot, layer, hit.frame, [hit.key]);
        // The figure goes along when it stands at that frame.
        if (clock.frame === hit.frame && live.aim(wanted.values)) setLive(live.player);
        preview.show(keyed);
        last = wanted;
      } catch (error) {
        problem = sayError(error);
      }
    },
    done() {
      stop();
      if (problem !== null && last === null) tell(problem);
      if (last && currentDocument() === shot) performOrTell(operations.keyPulled, last, scope);
    },
    cancel: stop,
  });
}
