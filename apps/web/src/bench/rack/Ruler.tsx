import { operations } from "@kneader/core";
import { useRef } from "react";
import { usePreferences } from "../../app/preferences.ts";
import { clock } from "../clock.ts";
import { useReadOnly, useShownPart } from "../documents.ts";
import { useSelection } from "../selection.ts";
import { frameAt, rulerTicks, useTimeAxis, xOf } from "../timeAxis.ts";
import { NumberField } from "../NumberField.tsx";
import { performOrTell } from "../perform.ts";
import { TrayRow } from "./TrayRow.tsx";
import { followKeys } from "./plot/dragKeys.ts";
import { dragMap } from "./plot/dragRules.ts";
import { isCarryPress, isPanPress, useTimeGestures } from "./plot/useTimeGestures.ts";

/** Frame numbers, the shot's range and the picked range. Drag scrubs; drag with Shift picks a range. */
export function Ruler() {
  const whole = useShownPart((shot) => shot.range);
  const axis = useTimeAxis();
  const range = useSelection((state) => state.range);
  const readOnly = useReadOnly();
  const plot = useRef<HTMLDivElement>(null);
  useTimeGestures(plot);
  const { start, end } = whole;

  const down = (event: React.PointerEvent) => {
    if (isPanPress(event) || (event.button !== 0 && !isCarryPress(event))) return;
    const box = event.currentTarget.getBoundingClientRect();
    if (isCarryPress(event)) {
      event.preventDefault();
      if (readOnly) return;
      const framesAt = (x: number) => frameAt(useTimeAxis.getState(), x - box.left);
      const grabbed = framesAt(event.clientX);
      followKeys("Move", (now) =>
        dragMap({ frames: framesAt(now.clientX) - grabbed, amount: 0 }, grabbed, usePreferences.getState(), "time", new Float64Array(0), 0),
      );
      return;
    }
    const at = (x: number) => Math.round(frameAt(useTimeAxis.getState(), x - box.left));
    const from = at(event.clientX);
    const picking = event.shiftKey;
    const go = (x: number) => {
      if (!picking) clock.set(at(x));
      else useSelection.getState().setRange({ start: Math.min(from, at(x)), end: Math.max(from, at(x)) });
    };
    go(event.clientX);
    event.currentTarget.setPointerCapture(event.pointerId);
    const target = event.currentTarget as HTMLElement;
    target.onpointermove = (now) => go(now.clientX);
    target.onpointerup = () => {
      target.onpointermove = null;
    };
  };

  const rename = (side: "start" | "end") => (value: number) => {
    const next = { ...whole, [side]: Math.round(value) };
    if (next.end >= next.start) performOrTell(operations.changeShot, { range: next });
  };

  return (
    <TrayRow
      name="Ruler"
      className="ruler"
      gutter={
        <>
          <b>Frames</b>
          <span className="range-fields">
            <NumberField className="tiny" label="First frame" decimals={0} value={start} onCommit={rename("start")} />–
            <NumberField className="tiny" label="Last frame" decimals={0} value={end} onCommit={rename("end")} />
          </span>
        </>
      }
    >
      <div
        className="ruler-plot"
        ref={plot}
        onPointerDown={down}
        title="Drag to scrub; with Shift to pick a range. Middle drag moves the picked keys"
      >
        {rulerTicks(axis).map((tick) => (
          <span key={tick} className="tick mono" style={{ left: xOf(axis, tick) }}>
            {tick}
          </span>
        ))}
        <span className="shot-range" style={{ left: xOf(axis, start), width: Math.max(1, xOf(axis, end) - xOf(axis, start)) }} />
        {range && (
          <span
            className="picked-range"
            style={{ left: xOf(axis, range.start), width: Math.max(3, xOf(axis, range.end) - xOf(axis, range.start)) }}
          />
        )}
      </div>
    </TrayRow>
  );
}
