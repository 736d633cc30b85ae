import type { ChannelKey, Curves } from "@kneader/core";
import type { Palette } from "../../../app/theme.ts";
import { rulerTicks, xOf } from "../../timeAxis.ts";
import { pickedTimes, ROW_HEIGHT, rowKeys, type SheetRow } from "./sheetView.ts";

export interface SheetPicture {
  readonly rows: readonly SheetRow[];
  readonly curves: Curves;
  readonly axis: { start: number; end: number; width: number };
  readonly height: number;
  readonly scroll: number;
  readonly picked: Readonly<Record<ChannelKey, readonly number[]>>;
  readonly palette: Palette;
  readonly range: { start: number; end: number };
  readonly box: { x0: number; y0: number; x1: number; y1: number } | null;
}

/** Marks closer than this (pixels) are drawn as one bar. */
const CROWDED = 5;

/** Draw the lines in sight: holds as bars, keys as marks, hollow where the pose is not complete. */
export function drawSheet(context: CanvasRenderingContext2D, picture: SheetPicture): void {
  const { rows, axis, height, scroll, palette, range, box } = picture;
  context.fillStyle = palette.plot;
  context.fillRect(0, 0, axis.width, height);
  const first = Math.max(0, Math.floor(scroll / ROW_HEIGHT));
  const last = Math.min(rows.length, Math.ceil((scroll + height) / ROW_HEIGHT));
  context.strokeStyle = palette.line;
  context.lineWidth = 1;
  context.beginPath();
  for (const tick of rulerTicks(axis)) {
    const x = Math.round(xOf(axis, tick)) + 0.5;
    context.moveTo(x, 0);
    context.lineTo(x, height);
  }
  for (let r = first; r <= last; r++) {
    const y = Math.round(r * ROW_HEIGHT - scroll) - 0.5;
    context.moveTo(0, y);
    context.lineTo(axis.width, y);
  }
  context.stroke();
  for (let r = first; r < last; r++) drawRow(context, picture, rows[r], r * ROW_HEIGHT - scroll + ROW_HEIGHT / 2);
  context.fillStyle = `${palette.page}b0`;
  const [left, right] = [xOf(axis, range.start), xOf(axis, range.end)];
  context.fillRect(0, 0, Math.max(0, left - 6), height);
  context.fillRect(right + 6, 0, Math.max(0, axis.width - right), height);
  if (!box) return;
  context.fillStyle = `${palette.plum}1c`;
  context.strokeStyle = palette.plum;
  context.beginPath();
  context.rect(Math.min(box.x0, box.x1) + 0.5, Math.min(box.y0, box.y1) + 0.5, Math.abs(box.x1 - box.x0), Math.abs(box.y1 - box.y0));
  context.fill();
  context.stroke();
}

function drawRow(context: CanvasRenderingContext2D, { curves, axis, picked, palette }: SheetPicture, row: SheetRow, y: number): void {
  const { times, counts, moving, holds } = rowKeys(curves, row);
  const chosen = pickedTimes(row, picked);
  const ink = row.kind === "all" ? palette.ink : row.kind === "control" ? palette.teal : palette.quiet;
  const size = row.kind === "channel" ? 3 : 4;
  for (let i = 0; i < times.length; i++) {
    const x = xOf(axis, times[i]);
    const next = i + 1 < times.length ? xOf(axis, times[i + 1]) : x;
    if (next < -8 || x > axis.width + 8) continue;
    if (holds[i] === 1) {
      context.fillStyle = palette.track;
      context.fillRect(x, y - 4, next - x, 8);
    }
    if (next - x < CROWDED && i + 1 < times.length && !chosen.has(times[i])) {
      context.fillStyle = `${ink}70`;
      context.fillRect(x - 1, y - size, Math.max(1, next - x) + 1, 2 * size);
      continue;
    }
    const complete = counts[i] >= moving;
    context.fillStyle = chosen.has(times[i]) ? palette.plum : complete ? ink : palette.plot;
    context.strokeStyle = chosen.has(times[i]) ? palette.plum : ink;
    context.lineWidth = 1.4;
    context.beginPath();
    context.roundRect(x - size, y - size, 2 * size, 2 * size, 2);
    context.fill();
    context.stroke();
  }
}
