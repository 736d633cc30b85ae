import { insertKeyOn, keyOn, layerCurves, moveKeys, sampleCurve, setHandle, type Shot, withLayerCurves, channelTitle } from "@kneader/core";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import { currentDocument, useDocuments, useReadOnly, useShot, useShown } from "../../documents.ts";
import { change, editKeys, nudgePicked } from "../../edits.ts";
import { followPointer } from "../../followPointer.ts";
import { pickedKeyCount, useSelection } from "../../selection.ts";
import { frameAt, useTimeAxis } from "../../timeAxis.ts";
import { isPanPress, useTimeGestures } from "../useTimeGestures.ts";
import { type CurveAxes, handleAt, handlePlace, hitKey, keysInBox, valueRange } from "./curveView.ts";
import { drawCurves, type DrawnCurve } from "./drawCurves.ts";
import { shownChannels } from "./shownCurves.ts";
import { useValueAxis, valueAt } from "./valueAxis.ts";

type Box = { x0: number; y0: number; x1: number; y1: number };

/** The curves themselves: pick, box, drag keys and handles, zoom and pan. */
export function CurveTray() {
  const shot = useShot();
  const shown = useShown();
  const readOnly = useReadOnly();
  const { controls, channels, keys, layer } = useSelection();
  const time = useTimeAxis();
  const value = useValueAxis();
  const theme = usePreferences((state) => state.theme);
  const canvas = useRef<HTMLCanvasElement>(null);
  const holder = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState<Box | null>(null);

  const drawn = useMemo((): DrawnCurve[] => {
    const curves = layerCurves(shown, layer);
    const before = layerCurves(shot, layer);
    return shownChannels(shown, layer, controls, channels).map((key) => ({
      key,
      curve: curves[key],
      before: before[key] && before[key] !== curves[key] ? before[key] : null,
    }));
  }, [shot, shown, layer, controls, channels]);

  const fitted = useMemo(
    () =>
      valueRange(
        drawn.flatMap(({ curve, before }) => (before ? [curve, before] : [curve])),
        time.start,
        time.end,
      ),
    [drawn, time.start, time.end],
  );
  const axes: CurveAxes = {
    start: time.start,
    end: time.end,
    width: time.width,
    height: value.height,
    ...(value.fitted ? fitted : { low: value.low, high: value.high }),
  };
  const axesNow = useRef(axes);
  axesNow.current = axes;

  useEffect(() => {
    const element = holder.current;
    if (!element) return;
    const watch = new ResizeObserver(() => useValueAxis.getState().setHeight(element.clientHeight));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    const ratio = window.devicePixelRatio || 1;
    const [width, height] = [Math.round(axes.width * ratio), Math.round(axes.height * ratio)];
    if (element.width !== width) element.width = width;
    if (element.height !== height) element.height = height;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    drawCurves(context, { curves: drawn, axes, picked: keys, palette: palettes[theme], range: shown.range, box });
  });

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
    if (event.button !== 0 || isPanPress(event)) return;
    canvas.current?.focus();
    const bounds = event.currentTarget.getBoundingClientRect();
    const at = (e: { clientX: number; clientY: number }) => ({ x: e.clientX - bounds.left, y: e.clientY - bounds.top });
    const start = at(event);
    const handle = readOnly ? null : hitHandle(drawn, keys, start.x, start.y, axes);
    if (handle) return dragHandle(handle, at, shot, layer, axes);
    const hit = hitKey(drawn, start.x, start.y, axes);
    const { pickKeys } = useSelection.getState();
    if (hit) {
      const time = drawn.find(({ key }) => key === hit.key)?.curve.times[hit.index] as number;
      const already = keys[hit.key]?.some((t) => Math.abs(t - time) < 1e-6) ?? false;
      if (event.shiftKey) {
        const rest = (keys[hit.key] ?? []).filter((t) => Math.abs(t - time) > 1e-6);
        const { [hit.key]: _, ...others } = keys;
        const list = already ? rest : [...rest, time];
        pickKeys(list.length > 0 ? { ...others, [hit.key]: list } : others);
        return;
      }
      if (!already) pickKeys({ [hit.key]: [time] });
      if (!readOnly) dragKeys(start, at, shot, layer, axes);
      return;
    }
    let end = start;
    followPointer({
      move(now) {
        end = at(now);
        setBox({ x0: start.x, y0: start.y, x1: end.x, y1: end.y });
      },
      done() {
        setBox(null);
        const moved = Math.hypot(end.x - start.x, end.y - start.y) > 3;
        const found = moved ? keysInBox(drawn, { x0: start.x, y0: start.y, x1: end.x, y1: end.y }, axes) : {};
        pickKeys(event.shiftKey ? { ...keys, ...found } : found);
      },
      cancel: () => setBox(null),
    });
  };

  /** A key where the curve was double-clicked; the curve stays what it was. */
  const insert = (event: React.MouseEvent) => {
    if (readOnly) return;
    const bounds = event.currentTarget.getBoundingClientRect();
    const frame = Math.round(frameAt(axes, event.clientX - bounds.left));
    const y = event.clientY - bounds.top;
    const near = drawn
      .map(({ key, curve }) => ({ key, curve, off: Math.abs(valueAt(axes, y) - sampleCurve(curve, frame)) }))
      .sort((a, b) => a.off - b.off)[0];
    if (!near || (near.off / (axes.high - axes.low)) * axes.height > 24) return;
    change(`Key on ${channelTitle(shot.rig, near.key)} at ${frame}`, (s) => {
      const curves = layerCurves(s, layer);
      return withLayerCurves(s, layer, { ...curves, [near.key]: insertKeyOn(curves[near.key], frame) });
    });
    useSelection.getState().pickKeys({ [near.key]: [frame] });
  };

  const nudge = (event: React.KeyboardEvent) => {
    if (pickedKeyCount(keys) === 0 || !event.altKey) return;
    const step = (axes.high - axes.low) / 200;
    const by: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, step], ArrowDown: [0, -step] };
    if (!(event.key in by)) return;
    event.preventDefault();
    event.stopPropagation();
    nudgePicked(...by[event.key]);
  };

  return (
    <div className="curve-plot" ref={holder}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        aria-label={`Curves of ${drawn.map(({ key }) => channelTitle(shown.rig, key)).join(", ") || "nothing"}. ${pickedKeyCount(keys)} keys picked. Alt and arrows move them; H picks the keys at the playhead.`}
        style={{ width: axes.width, height: axes.height }}
        onPointerDown={down}
        onDoubleClick={insert}
        onKeyDown={nudge}
      />
      {drawn.length === 0 && (
        <p className="quiet empty-line over">
          {layer === "base"
            ? "These controls have no keys."
            : "This pass has no keys here yet. Type a value in the list, or key the picked controls with K."}
        </p>
      )}
    </div>
  );
}

interface HandleHit {
  key: string;
  index: number;
  side: "in" | "out";
}

function hitHandle(
  drawn: readonly DrawnCurve[],
  picked: Readonly<Record<string, readonly number[]>>,
  x: number,
  y: number,
  axes: CurveAxes,
): HandleHit | null {
  for (const { key, curve } of drawn)
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

/** Drag with a live preview; commit on release, give up on Esc. */
function follow(onMove: (event: PointerEvent) => Shot | null, onDone: () => void): void {
  const { setPreview } = useDocuments.getState();
  let touched = false;
  followPointer({
    move(event) {
      const next = onMove(event);
      if (!next) return;
      touched = true;
      setPreview(next);
    },
    done() {
      setPreview(null);
      if (touched) onDone();
    },
    cancel: () => setPreview(null),
  });
}

function dragKeys(
  start: { x: number; y: number },
  at: (e: PointerEvent) => { x: number; y: number },
  shot: Shot,
  layer: string,
  axes: CurveAxes,
): void {
  const { keys } = useSelection.getState();
  let frames = 0;
  let amount = 0;
  follow(
    (event) => {
      const now = at(event);
      // Once a drag is clearly along one axis, Shift keeps it there: straight drags keep value or time.
      const across = Math.abs(now.x - start.x) > Math.abs(now.y - start.y);
      frames = event.shiftKey && !across ? 0 : Math.round(frameAt(axes, now.x) - frameAt(axes, start.x));
      amount = event.shiftKey && across ? 0 : valueAt(axes, now.y) - valueAt(axes, start.y);
      if (Math.hypot(now.x - start.x, now.y - start.y) < 3) return null;
      return editKeys(shot, layer, keys, (curve, indices) => moveKeys(curve, indices, frames, amount));
    },
    () => nudgePicked(frames, amount),
  );
}

function dragHandle(hit: HandleHit, at: (e: PointerEvent) => { x: number; y: number }, shot: Shot, layer: string, axes: CurveAxes): void {
  let result: Shot | null = null;
  follow(
    (event) => {
      const { x, y } = at(event);
      const curves = layerCurves(shot, layer);
      const curve = curves[hit.key];
      const { slope, weight } = handleAt(curve, hit.index, hit.side, x, y, axes);
      // With Alt the other side stays: the tangent breaks. With Shift the handle's length counts too.
      const kept = hit.side === "in" ? curve.weightIn[hit.index] : curve.weightOut[hit.index];
      const next = setHandle(curve, hit.index, hit.side, slope, event.shiftKey ? weight : kept, !event.altKey);
      result = withLayerCurves(shot, layer, { ...curves, [hit.key]: next });
      return result;
    },
    () => {
      if (result && currentDocument() === shot) useDocuments.getState().change("Drag a handle", result);
    },
  );
}
