import { countedWord, operations, type PaintedSpan, type Shot } from "@kneader/core";
import { Tooltip } from "antd";
import { type PointerEvent, useMemo, useRef, useState } from "react";
import { palettes } from "../../../app/theme.ts";
import { usePreferences } from "../../../app/preferences.ts";
import { clock } from "../../clock.ts";
import { useReadOnly, useShot } from "../../documents.ts";
import { NumberField } from "../../NumberField.tsx";
import { frameAt, useTimeAxis, xOf } from "../../timeAxis.ts";
import { useBrush } from "../../tune/brush.ts";
import { costById, sayChange, type ShownStrain, sumOf, useStrain, worstOf } from "../../tune/strainRows.ts";
import { useWork } from "../../work/workStore.ts";
import { drawGround } from "../plot/columns.ts";
import { useCanvas } from "../plot/useCanvas.ts";
import { isPanPress, useTimeGestures } from "../plot/useTimeGestures.ts";
import { TrayRow } from "../TrayRow.tsx";
import { drawPaint, drawStrip, LANE, LANES_END, PAINT, SUM } from "./drawStrain.ts";
import { explain } from "./explain.ts";
import { paintWith } from "./paint.ts";
import "./strain.css";

/** How bad the motion is at each frame while it is tuned, and where it must stay. */
export function StrainTray() {
  const isTuned = useWork((state) => state.operation === operations.tune.id);
  const strain = useStrain();
  const shot = useShot();
  if (!isTuned) return null;
  return <Strain strain={strain ?? NONE} shot={shot} />;
}

const NONE: ShownStrain = { start: 0, rows: [] };

function Strain({ strain, shot }: { strain: ShownStrain; shot: Shot }) {
  const rows = strain.rows.filter(({ weight }) => weight > 0);
  const sum = useMemo(() => sumOf(strain, "after"), [strain]);
  const { closeness } = useBrush();
  const worst = strain.start + worstOf(sum);
  return (
    <TrayRow
      name="Strain"
      className="strain-tray"
      gutter={
        <>
          <button type="button" className="link" title={`Go to the worst frame, ${worst}`} onClick={() => clock.set(worst)}>
            <b>Strain</b> <span className="mono">worst {worst}</span>
          </button>
          {rows.map((row) => {
            const frame = strain.start + worstOf(row.after);
            const title = costById(row.cost)?.title ?? row.cost;
            return (
              <button
                key={row.cost}
                type="button"
                className="link strip-name"
                tabIndex={-1}
                title={`${title}: go to its worst frame, ${frame}`}
                onClick={() => clock.set(frame)}
              >
                <span>{title}</span>
                <span className="mono">{sayChange(row)}</span>
              </button>
            );
          })}
          <Tooltip title="Drag along the lowest strip to paint how closely the motion stays there: 1 is within 10°, 100 within 0.1°, 0 lets go. Alt wipes off">
            <span className="brush">
              <span>Brush</span>
              <NumberField
                label="Brush, closeness"
                value={closeness}
                decimals={1}
                min={0}
                max={1000}
                tabIndex={-1}
                onCommit={(next) => useBrush.setState({ closeness: next })}
              />
            </span>
          </Tooltip>
        </>
      }
    >
      <StrainPlot strain={strain} sum={sum} shot={shot} />
    </TrayRow>
  );
}

function StrainPlot({ strain, sum, shot }: { strain: ShownStrain; sum: Float64Array; shot: Shot }) {
  const axis = useTimeAxis();
  const theme = usePreferences((state) => state.theme);
  const readOnly = useReadOnly();
  const spans = useWork((state) => state.settings.painted as readonly PaintedSpan[] | undefined) ?? [];
  const all = useWork((state) => Number(state.settings.closeness ?? 1));
  const [said, setSaid] = useState({ text: "", x: 0 });
  const holder = useRef<HTMLDivElement>(null);
  useTimeGestures(holder);
  const rows = strain.rows.filter(({ weight }) => weight > 0);
  const height = LANES_END(rows.length) + PAINT;
  const canvas = useCanvas(axis.width, height, (context) => {
    const palette = palettes[theme];
    drawGround(context, axis, height, palette);
    drawStrip(context, axis, { values: sum, start: strain.start, seen: 1, top: 1, height: SUM - 2 }, theme);
    rows.forEach(({ after, seen }, n) => {
      drawStrip(context, axis, { values: after, start: strain.start, seen, top: SUM + n * LANE, height: LANE - 2 }, theme);
    });
    drawPaint(context, axis, spans, all, shot.range, LANES_END(rows.length), palette);
  });
  const laneAt = (event: PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    const y = event.clientY - box.top;
    return {
      frame: frameAt(axis, event.clientX - box.left),
      row: y < SUM ? null : Math.floor((y - SUM) / LANE),
      isPaint: y >= LANES_END(rows.length),
    };
  };
  const press = (event: PointerEvent) => {
    if (event.button !== 0 || isPanPress(event)) return;
    const { frame, isPaint } = laneAt(event);
    if (isPaint && !readOnly) paintWith(event, axis);
    else clock.set(Math.round(frame));
  };
  const hover = (event: PointerEvent) => {
    if (event.buttons !== 0) return;
    const { frame, row, isPaint } = laneAt(event);
    const at = Math.round(frame);
    const inside = at >= strain.start && at < strain.start + sum.length;
    const wanted = row === null ? rows.map(({ cost }) => cost) : rows[row] ? [rows[row].cost] : [];
    const text = inside && !isPaint && wanted.length > 0 ? explain(shot, strain, wanted, at) : "";
    setSaid({ text, x: xOf(axis, at) });
  };
  return (
    <div className="strain-plot" ref={holder} style={{ height }}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={
          sum.length > 0
            ? `Strain over time, worst at frame ${strain.start + worstOf(sum)}; ${countedWord(spans.length, "span")} painted`
            : "Strain over time"
        }
        style={{ width: axis.width, height }}
        onPointerDown={press}
        onPointerMove={hover}
        onPointerLeave={() => setSaid({ text: "", x: 0 })}
      />
      {said.text && (
        <span
          className="strain-said"
          role="status"
          // It slides along itself as the pointer goes from end to end, so that it never leaves the plot, however long it is.
          style={{ left: said.x, transform: `translateX(${(-100 * said.x) / axis.width}%)` }}
        >
          {said.text}
        </span>
      )}
    </div>
  );
}
