import type { ChannelKey, Curves } from "@kneader/core";
import { usePreferences } from "../../../app/preferences.ts";
import { useSelection } from "../../selection.ts";
import { frameAt, type TimeAxis, xOf } from "../../timeAxis.ts";
import { followKeys } from "../plot/dragKeys.ts";
import { dragMap } from "../plot/dragRules.ts";
import { type Box, followBox, spotsIn } from "../plot/pickBox.ts";
import { isCarryPress, isPanPress } from "../plot/useTimeGestures.ts";
import { rowKeys } from "./rowKeys.ts";
import { joined, keysAt, pickedTimes, ROW_HEIGHT, type SheetRow } from "./sheetView.ts";

/** All that a press on the sheet needs to know. */
export interface Sheet {
  readonly rows: readonly SheetRow[];
  readonly curves: Curves;
  readonly axis: TimeAxis;
  /** Pixels from the first line's top to the plot's. */
  readonly above: number;
  /** Times of picked keys by channel. */
  readonly keys: Readonly<Record<ChannelKey, readonly number[]>>;
  readonly readOnly: boolean;
}

const lineAt = ({ above }: Sheet, y: number) => Math.floor((y + above) / ROW_HEIGHT);

/** The mark under the pointer: its line and frame. */
function markAt(sheet: Sheet, x: number, y: number): { row: SheetRow; time: number } | null {
  const { rows, curves, axis } = sheet;
  const row = rows[lineAt(sheet, y)];
  if (!row) return null;
  let best: number | null = null;
  for (const time of rowKeys(curves, row).times)
    if (Math.abs(xOf(axis, time) - x) < 7 && (best === null || Math.abs(xOf(axis, time) - x) < Math.abs(xOf(axis, best) - x))) best = time;
  return best === null ? null : { row, time: best };
}

/** Pick a mark and take hold of all that is picked, or open a box on empty ground. */
export function pressSheet(sheet: Sheet, event: React.PointerEvent, showBox: (box: Box | null) => void): void {
  const { rows, curves, axis, keys, readOnly } = sheet;
  if (isPanPress(event) || (event.button !== 0 && !isCarryPress(event))) return;
  const at = spotsIn(event);
  const start = at(event);
  const drag = (grabbed: number) =>
    followKeys("Move", (now) => {
      const frames = frameAt(axis, at(now).x) - frameAt(axis, start.x);
      return dragMap({ frames, amount: 0 }, grabbed, { ...usePreferences.getState(), toKeys: false }, "time", new Float64Array(0), 0);
    });
  if (isCarryPress(event)) {
    event.preventDefault();
    if (!readOnly) drag(frameAt(axis, start.x));
    return;
  }
  const { pickKeys } = useSelection.getState();
  const mark = markAt(sheet, start.x, start.y);
  if (mark) {
    const here = keysAt(curves, mark.row, mark.time - 1e-6, mark.time + 1e-6);
    const already = pickedTimes(mark.row, keys).includes(mark.time);
    if (event.shiftKey) pickKeys(joined(keys, here));
    else if (!already) pickKeys(here);
    if (!readOnly && !event.shiftKey) drag(mark.time);
    return;
  }
  followBox(start, at, showBox, (area) => {
    let found = {};
    if (area) {
      const [from, to] = [frameAt(axis, Math.min(area.x0, area.x1)), frameAt(axis, Math.max(area.x0, area.x1))];
      const [low, high] = [Math.min(area.y0, area.y1), Math.max(area.y0, area.y1)].map((y) => lineAt(sheet, y));
      for (const row of rows.slice(Math.max(0, low), high + 1)) found = joined(found, keysAt(curves, row, from, to));
    }
    pickKeys(event.shiftKey ? joined(keys, found) : found);
  });
}
