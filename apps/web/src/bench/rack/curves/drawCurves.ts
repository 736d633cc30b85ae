import { type ChannelKey, type Curve, isBroken, keyAt, keysOn, sampleCurve } from "@kneader/core";
import { scaleLinear } from "d3-scale";
import type { Palette } from "../../../app/theme.ts";
import { frameAt, rulerTicks, xOf } from "../../timeAxis.ts";
import { boxPlace, gripPlace, gripsOf, type KeyBox } from "../plot/keyBox.ts";
import { drawNumber } from "../plot/drawNumber.ts";
import { type Box, drawPickBox } from "../plot/pickBox.ts";
import { axisLetter, type CurveAxes, curvePoints, dashes, handlePlace, keysInSight, type KeyMark, markOf } from "./curveView.ts";
import { yOf } from "./valueAxis.ts";
import type { WholeMotion } from "./wholeMotion.ts";

export interface DrawnCurve {
  key: ChannelKey;
  curve: Curve;
  /** The curve as it was, drawn as a pale band while something is tried. */
  before: Curve | null;
  /** The frame of the curve that plays at a frame, where passes read it at others; drawn as a thin line. */
  played: ((frame: number) => number) | null;
  /** What plays below the layer and what comes out of all passes, where passes have a say; thin lines. */
  whole: WholeMotion | null;
  /** Drawn pale; its keys cannot be taken hold of. */
  locked: boolean;
}

export interface Picture {
  curves: readonly DrawnCurve[];
  axes: CurveAxes;
  picked: Readonly<Record<ChannelKey, readonly number[]>>;
  palette: Palette;
  range: { start: number; end: number };
  box: Box | null;
  /** What the keys wear: the colour of the pass they belong to; null: that of their channel. */
  keyInk: string | null;
  /** The box around the picked keys, when it is to be drawn. */
  keyBox: KeyBox | null;
}

/** Draw the curve tray. */
export function drawCurves(context: CanvasRenderingContext2D, picture: Picture): void {
  const { axes, palette, curves } = picture;
  context.fillStyle = palette.plot;
  context.fillRect(0, 0, axes.width, axes.height);
  drawGrid(context, picture);
  for (const { key, before } of curves) if (before) strokeCurve(context, before, axes, `${palette[axisLetter(key)]}38`, 6, []);
  for (const { key, curve, locked } of curves) {
    const colour = palette[axisLetter(key)];
    strokeCurve(context, curve, axes, locked ? `${colour}70` : colour, locked ? 1.2 : 1.6, dashes[axisLetter(key)]);
  }
  for (const { curve, played } of curves) if (played) strokePlayed(context, curve, played, axes, palette.ink);
  hatchOutside(context, picture);
  for (const { key, whole } of curves) if (whole) strokeWhole(context, whole, axes, palette, palette[axisLetter(key)]);
  drawValues(context, picture);
  for (const { key, curve, locked } of curves) if (!locked) drawKeys(context, key, curve, picture);
  if (picture.keyBox) drawKeyBox(context, picture.keyBox, picture);
  if (picture.box) drawPickBox(context, picture.box, palette);
}

/** A dashed frame with a grip at every side and corner that can be dragged. */
function drawKeyBox(context: CanvasRenderingContext2D, box: KeyBox, { axes, palette }: Picture): void {
  const { left, top, right, bottom } = boxPlace(box, axes);
  context.strokeStyle = palette.plum;
  context.lineWidth = 1;
  context.setLineDash([4, 3]);
  context.beginPath();
  context.rect(left, top, right - left, bottom - top);
  context.stroke();
  context.setLineDash([]);
  context.fillStyle = palette.plot;
  context.beginPath();
  for (const grip of gripsOf(box)) {
    const { x, y } = gripPlace(box, grip, axes);
    context.moveTo(x, y - 4.5);
    context.lineTo(x + 4.5, y);
    context.lineTo(x, y + 4.5);
    context.lineTo(x - 4.5, y);
    context.closePath();
  }
  context.fill();
  context.stroke();
}

function drawGrid(context: CanvasRenderingContext2D, { axes, palette, range }: Picture): void {
  context.lineWidth = 1;
  context.strokeStyle = palette.line;
  context.beginPath();
  for (const tick of rulerTicks(axes)) {
    const x = Math.round(xOf(axes, tick)) + 0.5;
    context.moveTo(x, 0);
    context.lineTo(x, axes.height);
  }
  const values = valueTicks(axes);
  for (const value of values) {
    const y = Math.round(yOf(axes, value)) + 0.5;
    context.moveTo(0, y);
    context.lineTo(axes.width, y);
  }
  context.stroke();
  const zero = Math.round(yOf(axes, 0)) + 0.5;
  context.strokeStyle = palette.border;
  context.beginPath();
  context.moveTo(0, zero);
  context.lineTo(axes.width, zero);
  context.stroke();
  for (const frame of [range.start, range.end]) {
    const x = Math.round(xOf(axes, frame)) + 0.5;
    context.setLineDash([2, 3]);
    context.strokeStyle = palette.icon;
    context.beginPath();
    context.moveTo(x, 0);
    context.lineTo(x, axes.height);
    context.stroke();
    context.setLineDash([]);
  }
}

function valueTicks(axes: CurveAxes): number[] {
  return scaleLinear([axes.low, axes.high], [0, 1]).ticks(Math.max(2, axes.height / 42));
}

/** Values at the right edge, each on a patch of the ground so that no line runs through it. */
function drawValues(context: CanvasRenderingContext2D, { axes, palette }: Picture): void {
  for (const value of valueTicks(axes)) drawNumber(context, value, axes.width - 4, yOf(axes, value), palette.quiet, palette.plot);
}

function strokeCurve(
  context: CanvasRenderingContext2D,
  curve: Curve,
  axes: CurveAxes,
  colour: string,
  width: number,
  dash: number[],
): void {
  const points = curvePoints(curve, axes);
  context.strokeStyle = colour;
  context.lineWidth = width;
  context.lineJoin = "round";
  context.setLineDash(dash);
  context.beginPath();
  for (let i = 0; i < points.length; i += 2) context.lineTo(points[i], points[i + 1]);
  context.stroke();
  context.setLineDash([]);
}

/** Source as dots, result as a thin line of the channel's colour edged in ink, so that each is told from the pass's own curve. */
function strokeWhole(
  context: CanvasRenderingContext2D,
  { start, source, result }: WholeMotion,
  axes: CurveAxes,
  palette: Palette,
  colour: string,
): void {
  const line = (row: Float64Array) => {
    context.beginPath();
    row.forEach((value, n) => {
      context.lineTo(xOf(axes, start + n), yOf(axes, value));
    });
    context.stroke();
  };
  context.lineJoin = "round";
  if (source) {
    context.strokeStyle = palette.quiet;
    context.lineWidth = 1.2;
    context.setLineDash([1, 4]);
    line(source);
    context.setLineDash([]);
  }
  context.strokeStyle = palette.ink;
  context.lineWidth = 2.6;
  line(result);
  context.strokeStyle = colour;
  context.lineWidth = 1.2;
  line(result);
}

/** The curve as time passes play it, looked at once per pixel. */
function strokePlayed(
  context: CanvasRenderingContext2D,
  curve: Curve,
  played: (frame: number) => number,
  axes: CurveAxes,
  ink: string,
): void {
  context.strokeStyle = ink;
  context.lineWidth = 1;
  context.beginPath();
  for (let x = 0; x <= axes.width; x++) context.lineTo(x, yOf(axes, sampleCurve(curve, played(frameAt(axes, x)))));
  context.stroke();
}

/** What lies before the first and after the last key is run-in and run-out: a veil of hatching. */
function hatchOutside(context: CanvasRenderingContext2D, { curves: all, axes, palette }: Picture): void {
  // A single key stands for the whole shot; nothing is outside of it.
  const curves = all.filter(({ curve }) => curve.times.length > 1);
  if (curves.length === 0) return;
  const first = Math.min(...curves.map(({ curve }) => curve.times[0]));
  const last = Math.max(...curves.map(({ curve }) => curve.times[curve.times.length - 1]));
  for (const [from, to] of [
    [0, xOf(axes, first)],
    [xOf(axes, last), axes.width],
  ]) {
    if (to - from < 1) continue;
    context.save();
    context.beginPath();
    context.rect(from, 0, to - from, axes.height);
    context.clip();
    context.globalAlpha = 0.55;
    context.fillStyle = palette.plot;
    context.fillRect(from, 0, to - from, axes.height);
    context.globalAlpha = 0.6;
    context.strokeStyle = palette.line;
    context.lineWidth = 1;
    context.beginPath();
    for (let x = from - axes.height; x < to; x += 9) {
      context.moveTo(x, axes.height);
      context.lineTo(x + axes.height, 0);
    }
    context.stroke();
    context.restore();
  }
}

/** Keys closer together than so many pixels are drawn as dots, without the shape that tells their kind. */
const CROWDED = 9;

function drawKeys(context: CanvasRenderingContext2D, key: ChannelKey, curve: Curve, { axes, palette, picked, keyInk }: Picture): void {
  const ink = keyInk ?? palette[axisLetter(key)];
  const sight = keysInSight(curve, axes);
  if (!sight) return;
  const chosenKeys = new Set(keysOn(curve, picked[key] ?? []));
  const crowded = sight.spacing < CROWDED;
  for (let i = sight.from; i < sight.to; i++) {
    const chosen = chosenKeys.has(i);
    if (crowded && !chosen) {
      context.fillStyle = ink;
      context.fillRect(xOf(axes, curve.times[i]) - 1.5, yOf(axes, curve.values[i]) - 1.5, 3, 3);
      continue;
    }
    if (chosen) drawHandles(context, curve, i, axes, palette);
    context.fillStyle = chosen ? palette.plum : ink;
    context.strokeStyle = context.fillStyle;
    drawMark(context, markOf(curve, i), xOf(axes, curve.times[i]), yOf(axes, curve.values[i]), chosen ? 5 : 4, palette.plot);
  }
}

function drawHandles(context: CanvasRenderingContext2D, curve: Curve, i: number, axes: CurveAxes, palette: Palette): void {
  const x = xOf(axes, curve.times[i]);
  const y = yOf(axes, curve.values[i]);
  context.strokeStyle = palette.plum;
  context.lineWidth = 1.2;
  for (const side of ["in", "out"] as const) {
    const end = handlePlace(curve, i, side, axes);
    if (!end) continue;
    context.setLineDash(isBroken(keyAt(curve, i)) ? [3, 2] : []);
    context.beginPath();
    context.moveTo(x, y);
    context.lineTo(end.x, end.y);
    context.stroke();
    context.setLineDash([]);
    context.fillStyle = palette.plot;
    context.beginPath();
    context.arc(end.x, end.y, 3.2, 0, Math.PI * 2);
    context.fill();
    context.stroke();
  }
}

/** One key mark. The same shapes stand in the legend. */
export function drawMark(context: CanvasRenderingContext2D, mark: KeyMark, x: number, y: number, r: number, hollow: string): void {
  context.lineWidth = 1.6;
  context.beginPath();
  if (mark === "flat") context.roundRect(x - r * 1.5, y - r * 0.62, r * 3, r * 1.24, r * 0.6);
  else if (mark === "linear") {
    context.moveTo(x - r * 0.9, y - r);
    context.lineTo(x + r * 1.1, y);
    context.lineTo(x - r * 0.9, y + r);
    context.closePath();
  } else if (mark === "stepped") {
    context.rect(x - r * 0.5, y - r, r * 1.7, r * 0.75);
    context.rect(x - r * 0.5, y - r, r * 0.75, r * 2);
  } else if (mark === "auto") context.roundRect(x - r * 0.9, y - r * 0.9, r * 1.8, r * 1.8, r * 0.5);
  else context.arc(x, y, r, 0, Math.PI * 2);
  if (mark === "broken") {
    const ink = context.fillStyle;
    context.fillStyle = hollow;
    context.fill();
    context.stroke();
    context.fillStyle = ink;
  } else if (mark === "free") {
    context.fill();
    context.beginPath();
    context.fillStyle = hollow;
    context.arc(x, y, r * 0.36, 0, Math.PI * 2);
    context.fill();
  } else context.fill();
}
