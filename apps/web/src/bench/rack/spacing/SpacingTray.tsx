import { layerCurves, splitChannelKey } from "@kneader/core";
import { useMemo, useRef } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import { clock, useRestingFrame } from "../../clock.ts";
import { useShot, useShown } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { frameAt, useTimeAxis } from "../../timeAxis.ts";
import { ChannelList } from "../channels/ChannelList.tsx";
import { shownChannels } from "../curves/shownCurves.ts";
import { columns, drawColumns, drawGround } from "../plot/columns.ts";
import { useCanvas } from "../plot/useCanvas.ts";
import { useHeight } from "../plot/useHeight.ts";
import { isPanPress, useTimeGestures } from "../plot/useTimeGestures.ts";
import { drawContacts, endToShow, useContactView, useFindsContacts } from "./contactView.ts";
import { curveSpacing, isStepped, placeSpacing, type Spacing } from "./spacingView.ts";

const NOTHING: ReadonlySet<string> = new Set();

/** Speed from frame to frame of the picked control, or of the one curve picked: where it is even and where it jolts. */
export function SpacingTray() {
  const shot = useShown();
  const given = useShot();
  const finds = useFindsContacts();
  const { controls, channels, layer } = useSelection();
  const axis = useTimeAxis();
  const theme = usePreferences((state) => state.theme);
  const frame = useRestingFrame();
  const holder = useRef<HTMLDivElement>(null);
  const height = useHeight(holder);
  useTimeGestures(holder);

  const spacing = useMemo((): Spacing | null => {
    const curve = channels.length === 1 ? layerCurves(shot, layer)[channels[0]] : undefined;
    if (curve) return curveSpacing(shot, channels[0], curve);
    if (finds && channels.length === 0) {
      const end = controls[controls.length - 1] ?? endToShow(shot);
      return end === null ? null : placeSpacing(given, end);
    }
    // With nothing picked, the control whose curves the curve tray would show: one that moves.
    const lively = shownChannels(shot, layer, [], [], NOTHING)[0];
    const control = controls[controls.length - 1] ?? (lively ? splitChannelKey(lively).control : shot.rig.controls[0]?.id);
    return control === undefined ? null : placeSpacing(shot, control);
  }, [shot, given, finds, controls, channels, layer]);
  const end = channels.length === 0 ? (controls[controls.length - 1] ?? endToShow(shot)) : null;
  const most = spacing ? Math.max(0, ...spacing.steps) : 0;
  const contacts = useContactView(given, end, most);

  const canvas = useCanvas(axis.width, height, (context) => {
    const palette = palettes[theme];
    drawGround(context, axis, height, palette);
    if (!spacing) return;
    const floor = height - 18;
    const { heights } = columns({ values: spacing.steps, start: spacing.start }, axis);
    drawColumns(context, heights, floor, floor - 34, palette.teal);
    if (contacts) drawContacts(context, contacts, axis, floor, floor - 34, palette);
    context.strokeStyle = palette.border;
    context.beginPath();
    context.moveTo(0, floor + 0.5);
    context.lineTo(axis.width, floor + 0.5);
    context.stroke();
  });

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
            {contacts && (
              <span className="quiet">; dashed: slower than that, dotted: its height and lower than that; shaded: contacts</span>
            )}
            {isStepped(spacing) && <span className="quiet">. It jumps from pose to pose; "Stepped or curves" shows the way between.</span>}
          </p>
        )}
      </div>
    </>
  );
}
