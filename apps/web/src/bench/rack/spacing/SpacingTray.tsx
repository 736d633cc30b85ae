import { layerCurves } from "@kneader/core";
import { useEffect, useMemo, useRef, useState } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import { clock, useRestingFrame } from "../../clock.ts";
import { useShown } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { frameAt, rulerTicks, useTimeAxis, xOf } from "../../timeAxis.ts";
import { ChannelList } from "../ChannelList.tsx";
import { isPanPress, useTimeGestures } from "../useTimeGestures.ts";
import { columns, curveSpacing, placeSpacing, type Spacing } from "./spacingView.ts";

/** Speed from frame to frame of the picked control, or of the one curve picked: where it is even and where it jolts. */
export function SpacingTray() {
  const shot = useShown();
  const { controls, channels, layer } = useSelection();
  const axis = useTimeAxis();
  const theme = usePreferences((state) => state.theme);
  const frame = useRestingFrame();
  const [height, setHeight] = useState(300);
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  useTimeGestures(holder);

  const spacing = useMemo((): Spacing | null => {
    const curve = channels.length === 1 ? layerCurves(shot, layer)[channels[0]] : undefined;
    if (curve) return curveSpacing(shot, channels[0], curve);
    const control = controls[controls.length - 1] ?? shot.rig.controls.find((c) => c.part !== "set")?.id;
    return control === undefined ? null : placeSpacing(shot, control);
  }, [shot, controls, channels, layer]);

  useEffect(() => {
    const element = holder.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setHeight(element.clientHeight));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = Math.round(axis.width * ratio);
    element.height = Math.round(height * ratio);
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    const palette = palettes[theme];
    context.fillStyle = palette.plot;
    context.fillRect(0, 0, axis.width, height);
    context.strokeStyle = palette.line;
    context.beginPath();
    for (const tick of rulerTicks(axis)) {
      const x = Math.round(xOf(axis, tick)) + 0.5;
      context.moveTo(x, 0);
      context.lineTo(x, height);
    }
    context.stroke();
    if (!spacing) return;
    const { heights } = columns(spacing, axis);
    const floor = height - 18;
    const room = floor - 34;
    context.fillStyle = `${palette.teal}55`;
    context.beginPath();
    heights.forEach((h, x) => {
      if (h >= 0) context.rect(x, floor - h * room, 1, h * room);
    });
    context.fill();
    context.strokeStyle = palette.teal;
    context.lineWidth = 1.5;
    context.beginPath();
    let drawing = false;
    heights.forEach((h, x) => {
      if (h < 0) drawing = false;
      else if (drawing) context.lineTo(x, floor - h * room);
      else {
        context.moveTo(x, floor - h * room);
        drawing = true;
      }
    });
    context.stroke();
    context.strokeStyle = palette.border;
    context.beginPath();
    context.moveTo(0, floor + 0.5);
    context.lineTo(axis.width, floor + 0.5);
    context.stroke();
  }, [spacing, axis, height, theme]);

  const most = spacing ? Math.max(0, ...spacing.steps) : 0;
  const here = spacing?.steps[Math.round(frame) - spacing.start];
  const say = (value: number) =>
    `${value < 10 ? value.toFixed(2) : value.toFixed(1)}${spacing?.unit === "°" ? "°" : ` ${spacing?.unit ?? ""}`}`;
  const scrub = (event: React.PointerEvent) => {
    if (event.button !== 0 || isPanPress(event)) return;
    const box = event.currentTarget.getBoundingClientRect();
    clock.set(frameAt(axis, event.clientX - box.left));
  };
  return (
    <>
      <div className="gutter">
        <ChannelList />
      </div>
      <div className="curve-plot" ref={holder}>
        <canvas
          ref={canvas}
          role="img"
          aria-label={spacing ? `Spacing of ${spacing.title}: at most ${say(most)} a frame` : "Nothing to show"}
          style={{ width: axis.width, height }}
          onPointerDown={scrub}
        />
        {spacing && (
          <p className="spacing-note">
            <b>{spacing.title}</b> at most <b className="mono">{say(most)}</b> a frame
            {here !== undefined && (
              <>
                , here <b className="mono">{say(here)}</b>
              </>
            )}
          </p>
        )}
      </div>
    </>
  );
}
