import { layerCurves, moveKeys, type Shot } from "@kneader/core";
import { Input } from "antd";
import { ChevronDown, ChevronRight, Search } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import { useDocuments, useReadOnly, useShot, useShown } from "../../documents.ts";
import { editKeys, nudgePicked } from "../../edits.ts";
import { followPointer } from "../../followPointer.ts";
import { pickedKeyCount, useSelection } from "../../selection.ts";
import { frameAt, useTimeAxis, xOf } from "../../timeAxis.ts";
import { isPanPress, useTimeGestures } from "../useTimeGestures.ts";
import { drawSheet, type SheetPicture } from "./drawSheet.ts";
import { joined, keysAt, pickedTimes, ROW_HEIGHT, rowKeys, type SheetRow, sheetRows } from "./sheetView.ts";

/** Room above the first line, level with the filter beside it. */
const HEAD = 34;

/** Keys of every control, line by line, for moving them in time and for seeing where a pose is not complete. */
export function SheetTray() {
  const shot = useShot();
  const shown = useShown();
  const readOnly = useReadOnly();
  const { controls, keys, layer } = useSelection();
  const axis = useTimeAxis();
  const theme = usePreferences((state) => state.theme);
  const [words, setWords] = useState("");
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [scroll, setScroll] = useState(0);
  const [height, setHeight] = useState(300);
  const [box, setBox] = useState<SheetPicture["box"]>(null);
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const curves = layerCurves(shown, layer);
  const rows = useMemo(() => sheetRows(shown, curves, words, unfolded), [shown, curves, words, unfolded]);
  const most = Math.max(0, rows.length * ROW_HEIGHT + HEAD - height);
  const top = Math.min(scroll, most);

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
    const [w, h] = [Math.round(axis.width * ratio), Math.round(height * ratio)];
    if (element.width !== w) element.width = w;
    if (element.height !== h) element.height = h;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    drawSheet(context, { rows, curves, axis, height, scroll: top - HEAD, picked: keys, palette: palettes[theme], range: shown.range, box });
  });

  const roll = (factor: number) => setScroll((now) => Math.min(most, Math.max(0, now + Math.log(factor) * 400)));
  const rollNow = useRef(roll);
  rollNow.current = roll;
  const onValues = useRef((factor: number) => rollNow.current(factor)).current;
  useTimeGestures(holder, onValues);

  const rowAt = (y: number): SheetRow | undefined => rows[Math.floor((y + top - HEAD) / ROW_HEIGHT)];
  /** The mark under the pointer: its line and frame. */
  const markAt = (x: number, y: number) => {
    const row = rowAt(y);
    if (!row) return null;
    let best: number | null = null;
    for (const time of rowKeys(curves, row).times)
      if (Math.abs(xOf(axis, time) - x) < 7 && (best === null || Math.abs(xOf(axis, time) - x) < Math.abs(xOf(axis, best) - x)))
        best = time;
    return best === null ? null : { row, time: best };
  };

  const down = (event: React.PointerEvent) => {
    if (event.button !== 0 || isPanPress(event)) return;
    canvas.current?.focus();
    const bounds = event.currentTarget.getBoundingClientRect();
    const at = (e: { clientX: number; clientY: number }) => ({ x: e.clientX - bounds.left, y: e.clientY - bounds.top });
    const start = at(event);
    const { pickKeys } = useSelection.getState();
    const mark = markAt(start.x, start.y);
    if (mark) {
      const here = keysAt(curves, mark.row, mark.time - 1e-6, mark.time + 1e-6);
      const already = pickedTimes(mark.row, keys).has(mark.time);
      if (event.shiftKey) pickKeys(joined(keys, here));
      else if (!already) pickKeys(here);
      if (!readOnly && !event.shiftKey) dragInTime(start.x, (e) => at(e).x, shot, layer);
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
        const [from, to] = [frameAt(axis, Math.min(start.x, end.x)), frameAt(axis, Math.max(start.x, end.x))];
        const [low, high] = [Math.min(start.y, end.y), Math.max(start.y, end.y)].map((y) => Math.floor((y + top - HEAD) / ROW_HEIGHT));
        let found = {};
        if (moved) for (const row of rows.slice(Math.max(0, low), high + 1)) found = joined(found, keysAt(curves, row, from, to));
        pickKeys(event.shiftKey ? joined(keys, found) : found);
      },
      cancel: () => setBox(null),
    });
  };

  const nudge = (event: React.KeyboardEvent) => {
    if (pickedKeyCount(keys) === 0 || !event.altKey || readOnly) return;
    const by = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
    if (by === 0) return;
    event.preventDefault();
    event.stopPropagation();
    nudgePicked(by, 0);
  };

  const first = Math.floor(top / ROW_HEIGHT);
  const inSight = rows.slice(first, first + Math.ceil(height / ROW_HEIGHT) + 1);
  return (
    <>
      <div className="gutter sheet-gutter">
        <Input
          size="small"
          allowClear
          prefix={<Search size={13} />}
          placeholder="Filter channels"
          aria-label="Filter channels"
          value={words}
          onChange={(event) => setWords(event.target.value)}
          onKeyDown={(event) => event.stopPropagation()}
        />
        <div className="sheet-names" role="group" aria-label="Lines of the sheet" onWheel={(event) => roll(Math.exp(event.deltaY / 400))}>
          {inSight.map((row, i) => (
            <div
              key={row.id}
              className={`sheet-name ${row.kind} ${controls.includes(row.control) ? "picked" : ""}`}
              style={{ top: (first + i) * ROW_HEIGHT - top }}
            >
              {row.kind === "control" && (
                <button
                  type="button"
                  className="fold"
                  aria-label={`${unfolded.has(row.id) ? "Fold" : "Unfold"} ${row.label}`}
                  aria-expanded={unfolded.has(row.id)}
                  onClick={() => setUnfolded(toggled(unfolded, row.id))}
                >
                  {unfolded.has(row.id) ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
                </button>
              )}
              <button type="button" className="control-name" title={`${row.label}: pick`} onClick={() => pickRow(row)}>
                {row.label}
              </button>
            </div>
          ))}
        </div>
      </div>
      <div className="curve-plot" ref={holder}>
        <canvas
          ref={canvas}
          tabIndex={0}
          role="img"
          aria-label={`Sheet of ${rows.length} lines. ${pickedKeyCount(keys)} keys picked. Alt and arrows move them; H picks the keys at the playhead.`}
          style={{ width: axis.width, height }}
          onPointerDown={down}
          onKeyDown={nudge}
        />
        {rows.length === 0 && (
          <p className="quiet empty-line over">
            {words ? `No channel with keys has "${words}" in its name.` : "Nothing is keyed here yet."}
          </p>
        )}
      </div>
    </>
  );
}

function toggled(set: ReadonlySet<string>, id: string): ReadonlySet<string> {
  const next = new Set(set);
  if (!next.delete(id)) next.add(id);
  return next;
}

function pickRow(row: SheetRow): void {
  const { pickControls, pickChannels, clear } = useSelection.getState();
  if (row.kind === "all") clear();
  else {
    pickControls([row.control]);
    if (row.kind === "channel") pickChannels(row.channels);
  }
}

/** Drag the picked keys in time, live; values stay. */
function dragInTime(start: number, at: (event: PointerEvent) => number, shot: Shot, layer: string): void {
  const { keys } = useSelection.getState();
  const { setPreview } = useDocuments.getState();
  const axis = useTimeAxis.getState();
  let frames = 0;
  followPointer({
    move(event) {
      const next = Math.round(frameAt(axis, at(event)) - frameAt(axis, start));
      if (next === frames) return;
      frames = next;
      setPreview(frames === 0 ? null : editKeys(shot, layer, keys, (curve, indices) => moveKeys(curve, indices, frames, 0)));
    },
    done() {
      setPreview(null);
      if (frames !== 0) nudgePicked(frames, 0);
    },
    cancel: () => setPreview(null),
  });
}
