import { BASE, layerCurves, playedFrames } from "@kneader/core";
import { useMemo } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { useShot, useShown } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { useTimeAxis } from "../../timeAxis.ts";
import { useChannelView } from "../channels/channelView.ts";
import { type CurveAxes, valueRange } from "./curveView.ts";
import type { DrawnCurve } from "./drawCurves.ts";
import { shownChannels } from "./shownCurves.ts";
import { useValueAxis } from "./valueAxis.ts";
import { rangeOf, wholeMotion } from "./wholeMotion.ts";

/** The curves of what is picked on the chosen layer, with what a preview changes in them and what passes make of them. */
export function useDrawnCurves(): readonly DrawnCurve[] {
  const shot = useShot();
  const shown = useShown();
  const { controls, channels, layer } = useSelection();
  const hidden = useChannelView((state) => state.hidden);
  const every = useChannelView((state) => state.every);
  const withResult = usePreferences((state) => state.result);
  const { start, end } = useTimeAxis();
  const [from, to] = [Math.floor(start), Math.ceil(end)];
  return useMemo((): DrawnCurve[] => {
    const curves = layerCurves(shown, layer);
    const before = layerCurves(shot, layer);
    const keys = shownChannels(shown, layer, controls, channels, hidden, every);
    const whole = withResult ? wholeMotion(shown, layer, keys, { start: from, end: to }) : null;
    return keys.map((key) => ({
      key,
      curve: curves[key],
      before: before[key] && before[key] !== curves[key] ? before[key] : null,
      played: layer === BASE && !whole?.has(key) ? playedFrames(shown, key) : null,
      whole: whole?.get(key) ?? null,
      locked: shown.locked.includes(key),
    }));
  }, [shot, shown, layer, controls, channels, hidden, every, withResult, from, to]);
}

/** Frames across and values up: fitted to the curves unless another range was asked for. */
export function useCurveAxes(drawn: readonly DrawnCurve[], height: number): CurveAxes {
  const time = useTimeAxis();
  const value = useValueAxis();
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
  const { start, end, width } = time;
  return { start, end, width, height, ...(value.fitted ? fitted : { low: value.low, high: value.high }) };
}
