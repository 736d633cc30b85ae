import {
  BASE,
  channelTitle,
  computedKind,
  controlById,
  layerCurves,
  playPass,
  ownControl,
  pickedCount,
  splitChannelKey,
  type Shot,
} from "@kneader/core";
import { type RefObject, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import { useReadOnly, useShot, useShown } from "../../documents.ts";
import { nudgePicked } from "../../edits.ts";
import { useSelection } from "../../selection.ts";
import { ChannelList } from "../channels/ChannelList.tsx";
import { useChannelView } from "../channels/channelView.ts";
import { layerInk } from "../layerInk.ts";
import { boxOf } from "../plot/keyBox.ts";
import { type Box, spotsIn } from "../plot/pickBox.ts";
import { useCanvas } from "../plot/useCanvas.ts";
import { useHeight } from "../plot/useHeight.ts";
import { isPanPress, useTimeGestures } from "../plot/useTimeGestures.ts";
import { insertKeyAt } from "./curvePress.ts";
import type { CurveAxes } from "./curveView.ts";
import { drawCurves, type DrawnCurve } from "./drawCurves.ts";
import { KeyLegend } from "./KeyLegend.tsx";
import { cursorAt, type Plot, pressCurves } from "./pressCurves.ts";
import { MOST_CURVES } from "./shownCurves.ts";
import { useCurveAxes, useDrawnCurves } from "./useDrawnCurves.ts";
import { useValueAxis, valueAt } from "./valueAxis.ts";

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

/** The curves, drawn and pressed on; the wheel zooms and pans. */
function CurvePlot() {
  const shot = useShot();
  const shown = useShown();
  const readOnly = useReadOnly();
  const { keys, layer } = useSelection();
  const theme = usePreferences((state) => state.theme);
  const boxed = usePreferences((state) => state.keyBox);
  const holder = useRef<HTMLDivElement>(null);
  const height = useHeight(holder);
  const [box, setBox] = useState<Box | null>(null);
  useEffect(() => useValueAxis.getState().setHeight(height), [height]);
  const drawn = useDrawnCurves();
  const open = useMemo(() => drawn.filter(({ locked }) => !locked), [drawn]);
  const axes = useCurveAxes(drawn, height);
  const around = useMemo(() => boxOf(open, keys), [open, keys]);
  const plot: Plot = { shot, layer, axes, drawn, open, keys, keyBox: boxed && !readOnly ? around : null, readOnly };

  const canvas = useCanvas(axes.width, axes.height, (context) =>
    drawCurves(context, {
      curves: drawn,
      axes,
      picked: keys,
      palette: palettes[theme],
      range: shown.range,
      keyInk: layer === BASE ? null : layerInk(shown, layer, palettes[theme]),
      box,
      keyBox: plot.keyBox,
    }),
  );
  useValueGestures(holder, axes);

  const nudge = (event: React.KeyboardEvent) => {
    if (pickedCount(keys) === 0 || !event.altKey || readOnly) return;
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
        aria-label={`Curves of ${drawn.map(({ key }) => channelTitle(shown.rig, key)).join(", ") || "nothing"}. ${pickedCount(keys)} keys picked. Alt and arrows move them; H picks the keys at the playhead.`}
        style={{ width: axes.width, height: axes.height }}
        onPointerDown={(event) => {
          if (!isPanPress(event)) canvas.current?.focus();
          pressCurves(plot, event, setBox);
        }}
        onPointerMove={(event) => {
          if (canvas.current && event.buttons === 0) canvas.current.style.cursor = cursorAt(plot, spotsIn(event)(event));
        }}
        onDoubleClick={(event) => !readOnly && insertKeyAt(spotsIn(event)(event), open, layer, axes)}
        onKeyDown={nudge}
      />
      <CurveNotes shot={shown} layer={layer} drawn={drawn} />
    </div>
  );
}

/** Zooming and panning of the values; those of time are everywhere the same. */
function useValueGestures(holder: RefObject<HTMLDivElement | null>, axes: CurveAxes): void {
  const axesNow = useRef(axes);
  axesNow.current = axes;
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
}

/** What is to be known about the lines, or why there are none. */
function CurveNotes({ shot, layer, drawn }: { shot: Shot; layer: string; drawn: readonly DrawnCurve[] }) {
  const { controls, channels, everything } = useSelection();
  const hidden = useChannelView((state) => state.hidden);
  const every = useChannelView((state) => state.every);
  const wanted = channels.length === 0 && controls.length > 0 ? countWanted(shot, layer, controls, hidden) : drawn.length;
  return (
    <>
      {drawn.length === 0 && <p className="quiet empty-line over">{sayEmpty(shot, layer, hidden.size > 0)}</p>}
      <div className="curve-notes">
        {controls.length + channels.length === 0 && drawn.length > 0 && !ownControl(shot, layer) && (
          <p className="quiet" title="Nothing is picked, so operations work on the whole figure; drawn is what moves most">
            Drawn: {controlById(shot.rig, splitChannelKey(drawn[0].key).control)?.name}. In scope:{" "}
            {everything ? "everything" : "the whole figure"}
          </p>
        )}
        {drawn.some(({ whole }) => whole !== null) && (
          <p className="quiet">
            {layer === BASE
              ? "Edged line: the result of all passes"
              : "Dots: below this pass. Edged line: the result; drag it to key this pass, in a range to nudge it"}
          </p>
        )}
        {drawn.some(({ played }) => played !== null) && <p className="quiet">Thin line: as the passes play it in time</p>}
        {wanted > MOST_CURVES && (
          <p className="quiet">
            {every ? `All ${wanted} curves are drawn,` : `${drawn.length} of ${wanted} curves are drawn; edits mean all of them,`}{" "}
            <button type="button" className="link-button" onClick={() => useChannelView.getState().setEvery(!every)}>
              {every ? "show fewer" : "show all"}
            </button>
          </p>
        )}
      </div>
    </>
  );
}

/** Why no curve is drawn, and what to do. */
function sayEmpty(shot: Shot, layer: string, hidden: boolean): string {
  const pass = shot.passes.find(({ id }) => id === layer);
  if (hidden) return "The curves of what is picked are hidden. Show all from the filter at the left.";
  if (!pass) return "Never keyed. Drag the figure, type a value in the list, or key it as it stands with K.";
  if (pass.kind === playPass.id)
    return "This pass plays an action as one thing. Drag its band, or open the action from its menu to change its keys.";
  if (computedKind(pass.kind))
    return "This pass is worked out. Its settings can be keyed: unfold them at the left, or press its sliders above.";
  return "This pass has no keys here yet. Drag the figure, type a value in the list, or key the picked controls with K.";
}

function countWanted(shot: Shot, layer: string, controls: readonly string[], hidden: ReadonlySet<string>): number {
  const curves = layerCurves(shot, layer);
  return shot.rig.controls
    .filter(({ id }) => controls.includes(id))
    .flatMap(({ id, channels }) => channels.map((channel) => `${id}.${channel}`))
    .filter((key) => key in curves && !hidden.has(key)).length;
}
