import { type ChannelKey, type Curves, cycleOf, ghostTimes } from "@kneader/core";
import type { Palette } from "../../../app/theme.ts";
import { xOf } from "../../timeAxis.ts";
import { keyMarks } from "../curves/curveView.ts";
import { drawMark } from "../curves/drawCurves.ts";
import { drawGround } from "../plot/columns.ts";
import { type Box, drawPickBox } from "../plot/pickBox.ts";
import { rowKeys } from "./rowKeys.ts";
import { pickedTimes, ROW_HEIGHT, type SheetRow, sheetMarks } from "./sheetView.ts";

export interface SheetPicture {
  readonly rows: readonly SheetRow[];
  readonly curves: Curves;
  readonly axis: { start: number; end: number; width: number };
  readonly height: number;
  readonly scroll: number;
  readonly picked: Readonly<Record<ChannelKey, readonly number[]>>;
  /** Keys that give way to what is being tried. */
  readonly givingWay: Readonly<Record<ChannelKey, readonly number[]>>;
  readonly palette: Palette;
  /** Colour of the keys: that of the pass they belong to. */
  readonly ink: string;
  readonly range: { start: number; end: number };
  readonly box: Box | null;
}

/** Draw the lines in sight: holds as bars, keys as marks, hollow where the pose is not complete. */
export function drawSheet(context: CanvasRenderingContext2D, picture: SheetPicture): void {
  const { rows, axis, height, scroll, palette, range, box } = picture;
  drawGround(context, axis, height, palette);
  const first = Math.max(0, Math.floor(scroll / ROW_HEIGHT));
  const last = Math.min(rows.length, Math.ceil((scroll + height) / ROW_HEIGHT));
  context.beginPath();
  for (let r = first; r <= last; r++) {
    const y = Math.round(r * ROW_HEIGHT - scroll) - 0.5;
    context.moveTo(0, y);
    context.lineTo(axis.width, y);
  }
  context.stroke();
  for (let r = first; r < last; r++) {
    const y = r * ROW_HEIGHT - scroll + ROW_HEIGHT / 2;
    drawRow(context, picture, rows[r], y);
    strikeOut(context, picture, rows[r], y);
  }
  context.fillStyle = `${palette.page}b0`;
  const [left, right] = [xOf(axis, range.start), xOf(axis, range.end)];
  context.fillRect(0, 0, Math.max(0, left - 6), height);
  context.fillRect(right + 6, 0, Math.max(0, axis.width - right), height);
  if (box) drawPickBox(context, box, palette);
}

/** Ghosts closer together than so many pixels are not drawn. */
const APART = 5;

/** The keys of extra rounds: small hollow marks that cannot be taken hold of. */
function drawGhosts(
  context: CanvasRenderingContext2D,
  curves: Curves,
  row: SheetRow,
  axis: SheetPicture["axis"],
  y: number,
  palette: Palette,
): void {
  const own = Object.fromEntries(row.channels.map((key) => [key, curves[key]]));
  const cycle = cycleOf(own);
  if (!cycle) return;
  const { times } = rowKeys(curves, row);
  context.strokeStyle = palette.icon;
  context.lineWidth = 1;
  let last = Number.NEGATIVE_INFINITY;
  for (const { time } of ghostTimes(times, cycle, axis.start, axis.end)) {
    const x = xOf(axis, time);
    if (x - last < APART) continue;
    last = x;
    context.beginPath();
    context.arc(x, y, 2.5, 0, Math.PI * 2);
    context.stroke();
  }
}

/** Keys that give way are struck through. */
function strikeOut(context: CanvasRenderingContext2D, { axis, givingWay, palette }: SheetPicture, row: SheetRow, y: number): void {
  const times = new Set(row.channels.flatMap((key) => givingWay[key] ?? []));
  context.strokeStyle = palette.amber;
  context.lineWidth = 2;
  for (const time of times) {
    const x = xOf(axis, time);
    if (x < -8 || x > axis.width + 8) continue;
    context.beginPath();
    context.moveTo(x - 5, y + 6);
    context.lineTo(x + 5, y - 6);
    context.stroke();
  }
}

function drawRow(
  context: CanvasRenderingContext2D,
  { curves, axis, picked, palette, ink: strong }: SheetPicture,
  row: SheetRow,
  y: number,
): void {
  drawGhosts(context, curves, row, axis, y, palette);
  const { times, counts, moving, changing, marks } = rowKeys(curves, row);
  const ink = row.kind === "all" ? palette.ink : row.kind === "control" ? strong : palette.quiet;
  const size = row.kind === "channel" ? 3 : 4;
  for (const mark of sheetMarks(times, pickedTimes(row, picked), axis)) {
    const [x, end] = [xOf(axis, times[mark.from]), xOf(axis, times[mark.to])];
    if (mark.to > mark.from) {
      context.fillStyle = mark.picked ? palette.plum : `${ink}70`;
      context.fillRect(x - size, y - size, end - x + 2 * size, 2 * size);
    }
    if (mark.to + 1 < times.length && changing[mark.to] === 0) {
      context.fillStyle = palette.track;
      context.fillRect(end, y - 4, xOf(axis, times[mark.to + 1]) - end, 8);
    }
    if (mark.to > mark.from) continue;
    const complete = counts[mark.from] >= moving;
    const colour = mark.picked ? palette.plum : ink;
    context.fillStyle = mark.picked || complete ? colour : palette.plot;
    context.strokeStyle = colour;
    const kind = keyMarks[marks[mark.from]];
    if (kind && complete) {
      drawMark(context, kind, x, y, size, palette.plot);
      continue;
    }
    context.lineWidth = 1.4;
    context.beginPath();
    context.roundRect(x - size, y - size, 2 * size, 2 * size, 2);
    context.fill();
    context.stroke();
  }
}
