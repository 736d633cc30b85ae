import { controlById, type Drift, type DriftPlace, type Shot } from "@kneader/core";
import { Segmented } from "antd";
import { useRef, useState } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import { clock } from "../../clock.ts";
import { useShot } from "../../documents.ts";
import { frameAt, useTimeAxis, xOf } from "../../timeAxis.ts";
import { sayAngle, sayLength } from "../../units.ts";
import { useWork } from "../../work/workStore.ts";
import { columns, drawColumns, drawGround } from "../plot/columns.ts";
import { useCanvas } from "../plot/useCanvas.ts";
import { isPanPress, useTimeGestures } from "../plot/useTimeGestures.ts";
import { TrayRow } from "../TrayRow.tsx";

const HEIGHT = 56;
type Measure = "turn" | "place";

/** While an operation that should keep the motion is tried: how far it strays, frame by frame. */
export function DriftRow() {
  const drift = useWork((state) => state.outcome?.report.drift ?? null);
  const shot = useShot();
  const [measure, setMeasure] = useState<Measure>("turn");
  if (!drift) return null;
  const worst = drift[measure];
  const amount = measure === "turn" ? sayAngle(worst.amount) : sayLength(worst.amount, shot);
  const name = controlById(shot.rig, worst.control)?.name ?? worst.control;
  return (
    <TrayRow
      name="Drift"
      className="drift-tray"
      gutter={
        <>
          <span className="drift-head">
            <b>Drift</b>
            <Segmented
              size="small"
              aria-label="What drifts"
              value={measure}
              options={[
                { value: "turn", label: "Turn" },
                { value: "place", label: "Place" },
              ]}
              onChange={setMeasure}
            />
          </span>
          <button
            type="button"
            className="link"
            title={`The worst: ${amount} on ${name}. Go to frame ${worst.frame}`}
            onClick={() => clock.set(worst.frame)}
          >
            <b className="mono">{amount}</b> {name}
          </button>
        </>
      }
    >
      <DriftPlot drift={drift} measure={measure} worst={worst} shot={shot} />
    </TrayRow>
  );
}

function DriftPlot({ drift, measure, worst, shot }: { drift: Drift; measure: Measure; worst: DriftPlace; shot: Shot }) {
  const axis = useTimeAxis();
  const theme = usePreferences((state) => state.theme);
  const holder = useRef<HTMLDivElement>(null);
  useTimeGestures(holder);
  const canvas = useCanvas(axis.width, HEIGHT, (context) => {
    const palette = palettes[theme];
    drawGround(context, axis, HEIGHT, palette);
    const values = measure === "turn" ? drift.turnPerFrame : drift.placePerFrame;
    // A value belongs to its frame, not to the way to the next one.
    const { heights } = columns({ values, start: drift.start - 0.5 }, axis);
    drawColumns(context, heights, HEIGHT - 4, HEIGHT - 16, palette.amber);
    const x = xOf(axis, worst.frame);
    context.fillStyle = palette.amber;
    context.beginPath();
    context.moveTo(x - 5, 2);
    context.lineTo(x + 5, 2);
    context.lineTo(x, 10);
    context.fill();
  });
  const scrub = (event: React.PointerEvent) => {
    if (event.button !== 0 || isPanPress(event)) return;
    const box = event.currentTarget.getBoundingClientRect();
    const frame = frameAt(axis, event.clientX - box.left);
    // A press near the worst frame means it.
    const near = Math.abs(xOf(axis, worst.frame) - (event.clientX - box.left)) < 7;
    clock.set(near ? worst.frame : frame);
  };
  const most = measure === "turn" ? sayAngle(worst.amount) : sayLength(worst.amount, shot);
  return (
    <div className="drift-plot" ref={holder}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Drift over time, at most ${most} at frame ${worst.frame}`}
        style={{ width: axis.width, height: HEIGHT }}
        onPointerDown={scrub}
      />
    </div>
  );
}
