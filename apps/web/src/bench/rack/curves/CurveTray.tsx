import { BASE, channelTitle, computedKind, layerCurves, pickedCount, playedFrames, type Shot } from "@kneader/core";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import { useReadOnly, useShot, useShown } from "../../documents.ts";
import { nudgePicked } from "../../edits.ts";
import { useSelection } from "../../selection.ts";
import { frameAt, useTimeAxis } from "../../timeAxis.ts";
import { ChannelList } from "../channels/ChannelList.tsx";
import { useChannelView } from "../channels/channelView.ts";
import { boxOf, gripAt } from "../plot/keyBox.ts";
import { type Box, followBox, spotsIn } from "../plot/pickBox.ts";
import { layerInk } from "../layerInk.ts";
import { useCanvas } from "../plot/useCanvas.ts";
import { useHeight } from "../plot/useHeight.ts";
import { isCarryPress, isPanPress, useTimeGestures } from "../plot/useTimeGestures.ts";
import { dragResult, hitResult } from "./resultPress.ts";
import { dragGrip, dragHandle, dragKeys, hitHandle, insertKeyAt } from "./curvePress.ts";
import { type CurveAxes, hitKey, keysInBox, valueRange } from "./curveView.ts";
import { drawCurves, type DrawnCurve } from "./drawCurves.ts";
import { KeyLegend } from "./KeyLegend.tsx";
import { MOST_CURVES, shownChannels } from "./shownCurves.ts";
import { useValueAxis, valueAt } from "./valueAxis.ts";
import { rangeOf, wholeMotion } from "./wholeMotion.ts";

/** The curves themselves, with the list of channels beside them. */
export function CurveTray() {
  return (
    <>
      <div className="gutter">
        <ChannelList />
        <KeyLegend />
      </div>
      <CurvePlot />
    </>
  );
}

/** Pick, box, drag keys, handles and the box around picked keys; zoom and pan. */
function CurvePlot() {
  const shot = useShot();
  const shown = useShown();
  const readOnly = useReadOnly();
  const { controls, channels, keys, layer } = useSelection();
  const hidden = useChannelView((state) => state.hidden);
  const time = useTimeAxis();
  const value = useValueAxis();
  const theme = usePreferences((state) => state.theme);
  const boxed = usePreferences((state) => state.keyBox);
  const holder = useRef<HTMLDivElement>(null);
  const height = useHeight(holder);
  const [box, setBox] = useState<Box | null>(null);
  useEffect(() => useValueAxis.getState().setHeight(height), [height]);

  const withResult = usePreferences((state) => state.result);
  const [from, to] = [Math.floor(time.start), Math.ceil(time.end)];
  const drawn = useMemo((): DrawnCurve[] => {
    const curves = layerCurves(shown, layer);
    const before = layerCurves(shot, layer);
    const keys = shownChannels(shown, layer, controls, channels, hidden);
    const whole = withResult ? wholeMotion(shown, layer, keys, { start: from, end: to }) : null;
    return keys.map((key) => ({
      key,
      curve: curves[key],
      before: before[key] && before[key] !== curves[key] ? before[key] : null,
      played: layer === BASE && !whole?.has(key) ? playedFrames(shown, key) : null,
      whole: whole?.get(key) ?? null,
      locked: shown.locked.includes(key),
    }));
  }, [shot, shown, layer, controls, channels, hidden, withResult, from, to]);
  const open = useMemo(() => drawn.filter(({ locked }) => !locked), [drawn]);

  const fitted = useMemo(() => {
    const own = valueRange(
      drawn.flatMap(({ curve, before }) => (before ? [curve, before] : [curve])),
      time.start,
      time.end,
    );
    const lines = rangeOf(drawn.flatMap(({ whole }) => whole ?? []));
    if (!lines) return own;
    const margin = (lines.high - lines.low) * 0.08;
    return { low: Math.min(own.low, lines.low - margin), high: Math.max(own.high, lines.high + margin) };
  }, [drawn, time.start, time.end]);
  const axes: CurveAxes = {
    start: time.start,
    end: time.end,
    width: time.width,
    height,
    ...(value.fitted ? fitted : { low: value.low, high: value.high }),
  };
  const axesNow = useRef(axes);
  axesNow.current = axes;
  const keyBox = useMemo(() => boxOf(open, keys), [open, keys]);

  const canvas = useCanvas(axes.width, axes.height, (context) =>
    drawCurves(context, {
      curves: drawn,
      axes,
      picked: keys,
      palette: palettes[theme],
      range: shown.range,
      keyInk: layer === BASE ? null : layerInk(shown, layer, palettes[theme]),
      box,
      keyBox: boxed && !readOnly ? keyBox : null,
    }),
  );

  const zoomValues = useCallback((factor: number, y: number) => {
    const now = axesNow.current;
    const about = valueAt(now, y);
    useValueAxis.getState().show(about - (about - now.low) * factor, about + (now.high - about) * factor);
  }, []);
  const panValues = useCallback((pixels: number) => {
    const now = axesNow.current;
    if (useValueAxis.getState().fitted && Math.abs(pixels) < 2) return;
    const by = (pixels / now.height) * (now.high - now.low);
    useValueAxis.getState().show(now.low + by, now.high + by);
  }, []);
  useTimeGestures(holder, zoomValues, panValues);

  const down = (event: React.PointerEvent) => {
    if (isPanPress(event) || (event.button !== 0 && !isCarryPress(event))) return;
    canvas.current?.focus();
    const at = spotsIn(event);
    const start = at(event);
    const { pickKeys } = useSelection.getState();
    if (isCarryPress(event)) {
      event.preventDefault();
      if (!readOnly) dragKeys(start, at, Math.round(frameAt(axes, start.x)), open, axes);
      return;
    }
    const handle = readOnly ? null : hitHandle(open, keys, start, axes);
    if (handle) return dragHandle(handle, at, shot, layer, axes);
    const hit = hitKey(open, start.x, start.y, axes);
    if (hit) {
      const time = open.find(({ key }) => key === hit.key)?.curve.times[hit.index] as number;
      const already = keys[hit.key]?.some((t) => Math.abs(t - time) < 1e-6) ?? false;
      if (event.shiftKey) {
        const rest = (keys[hit.key] ?? []).filter((t) => Math.abs(t - time) > 1e-6);
        const { [hit.key]: _, ...others } = keys;
        const list = already ? rest : [...rest, time];
        pickKeys(list.length > 0 ? { ...others, [hit.key]: list } : others);
        return;
      }
      if (!already) pickKeys({ [hit.key]: [time] });
      if (!readOnly) dragKeys(start, at, time, open, axes);
      return;
    }
    const result = readOnly ? null : hitResult(drawn, start, axes);
    if (result) return dragResult(result, start, at, shot, layer, axes);
    const grip = boxed && !readOnly && keyBox && !event.shiftKey ? gripAt(keyBox, start.x, start.y, axes) : null;
    if (grip && grip !== "inside" && keyBox) return dragGrip(keyBox, grip, start, at, open, axes);
    if (grip === "inside") return dragKeys(start, at, Math.round(frameAt(axes, start.x)), open, axes);
    followBox(start, at, setBox, (area) => {
      const found = area ? keysInBox(open, area, axes) : {};
      pickKeys(event.shiftKey ? { ...keys, ...found } : found);
    });
  };

  /** What a press here would take hold of, as the pointer's shape. */
  const hover = (event: React.PointerEvent) => {
    if (!canvas.current || event.buttons !== 0) return;
    const { x, y } = spotsIn(event)(event);
    const grip = boxed && !readOnly && keyBox ? gripAt(keyBox, x, y, axes) : null;
    const over = grip && (hitHandle(open, keys, { x, y }, axes) || hitKey(open, x, y, axes));
    canvas.current.style.cursor = grip && !over ? cursors[grip] : "";
  };

  const nudge = (event: React.KeyboardEvent) => {
    if (pickedCount(keys) === 0 || !event.altKey || readOnly) return;
    const step = (axes.high - axes.low) / 200;
    const by: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, step], ArrowDown: [0, -step] };
    if (!(event.key in by)) return;
    event.preventDefault();
    event.stopPropagation();
    nudgePicked(...by[event.key]);
  };

  const wanted = channels.length === 0 && controls.length > 0 ? countWanted(shown, layer, controls, hidden) : drawn.length;
  return (
    <div className="curve-plot" ref={holder}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        aria-label={`Curves of ${drawn.map(({ key }) => channelTitle(shown.rig, key)).join(", ") || "nothing"}. ${pickedCount(keys)} keys picked. Alt and arrows move them; H picks the keys at the playhead.`}
        style={{ width: axes.width, height: axes.height }}
        onPointerDown={down}
        onPointerMove={hover}
        onDoubleClick={(event) => !readOnly && insertKeyAt(spotsIn(event)(event), open, layer, axes)}
        onKeyDown={nudge}
      />
      {drawn.length === 0 && <p className="quiet empty-line over">{sayEmpty(shown, layer, hidden.size > 0)}</p>}
      {drawn.some(({ whole }) => whole !== null) && (
        <p className="quiet more-curves">
          {layer === BASE
            ? "Edged line: the result of all passes"
            : "Dots: below this pass. Edged line: the result; drag it to key this pass, in a range to nudge it"}
        </p>
      )}
      {drawn.some(({ played }) => played !== null) && <p className="quiet more-curves">Thin line: as the passes play it in time</p>}
      {wanted > MOST_CURVES && (
        <p className="quiet more-curves">
          {drawn.length} of {wanted} curves. Pick channels to see others.
        </p>
      )}
    </div>
  );
}

/** Why no curve is drawn, and what to do. */
function sayEmpty(shot: Shot, layer: string, hidden: boolean): string {
  const pass = shot.passes.find(({ id }) => id === layer);
  if (hidden) return "The curves of what is picked are hidden. Show all from the filter at the left.";
  if (!pass) return "These controls have no keys.";
  if (computedKind(pass.kind))
    return "This pass is worked out. Its settings can be keyed: unfold them at the left, or press its sliders above.";
  return "This pass has no keys here yet. Drag the figure, type a value in the list, or key the picked controls with K.";
}

const cursors = {
  tl: "nwse-resize",
  br: "nwse-resize",
  tr: "nesw-resize",
  bl: "nesw-resize",
  t: "ns-resize",
  b: "ns-resize",
  l: "ew-resize",
  r: "ew-resize",
  inside: "move",
} as const;

function countWanted(shot: Shot, layer: string, controls: readonly string[], hidden: ReadonlySet<string>): number {
  const curves = layerCurves(shot, layer);
  return shot.rig.controls
    .filter(({ id }) => controls.includes(id))
    .flatMap(({ id, channels }) => channels.map((channel) => `${id}.${channel}`))
    .filter((key) => key in curves && !hidden.has(key)).length;
}
