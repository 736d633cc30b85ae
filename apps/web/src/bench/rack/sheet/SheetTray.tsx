import { layerControls, layerCurves, pickedCount } from "@kneader/core";
import { ChevronDown, ChevronRight } from "lucide-react";
import { memo, useCallback, useMemo, useRef, useState } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { palettes } from "../../../app/theme.ts";
import { useReadOnly, useShown } from "../../documents.ts";
import { nudgePicked } from "../../edits.ts";
import { useSelection } from "../../selection.ts";
import { useTimeAxis } from "../../timeAxis.ts";
import { useOverwritten } from "../../work/overwritten.ts";
import { useChannelView } from "../channels/channelView.ts";
import { FilterField } from "../channels/FilterField.tsx";
import type { Box } from "../plot/pickBox.ts";
import { useCanvas } from "../plot/useCanvas.ts";
import { useHeight } from "../plot/useHeight.ts";
import { isPanPress, useTimeGestures } from "../plot/useTimeGestures.ts";
import { layerInk } from "../layerInk.ts";
import { drawSheet } from "./drawSheet.ts";
import { pressSheet } from "./sheetPress.ts";
import { ROW_HEIGHT, type SheetRow, sheetRows } from "./sheetView.ts";

/** Room above the first line, level with the filter beside it. */
const HEAD = 34;

/** Keys of every control, line by line, for moving them in time and for seeing where a pose is not complete. */
export function SheetTray() {
  const shown = useShown();
  const readOnly = useReadOnly();
  const { controls, keys, layer } = useSelection();
  const view = useChannelView();
  const givingWay = useOverwritten();
  const axis = useTimeAxis();
  const theme = usePreferences((state) => state.theme);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [scroll, setScroll] = useState(0);
  const [box, setBox] = useState<Box | null>(null);
  const holder = useRef<HTMLDivElement>(null);
  const height = useHeight(holder);
  const curves = layerCurves(shown, layer);
  const listed = layerControls(shown, layer);
  const { locked } = shown;
  const made = useMemo(
    () => sheetRows(listed, { curves, picked: controls, locked: new Set(locked) }, view, unfolded),
    [listed, locked, curves, controls, view, unfolded],
  );
  const rows = useStableRows(made);
  const most = Math.max(0, rows.length * ROW_HEIGHT + HEAD - height);
  const top = Math.min(scroll, most);

  const canvas = useCanvas(axis.width, height, (context) =>
    drawSheet(context, {
      rows,
      curves,
      axis,
      height,
      scroll: top - HEAD,
      picked: keys,
      givingWay,
      palette: palettes[theme],
      ink: layerInk(shown, layer, palettes[theme]),
      range: shown.range,
      box,
    }),
  );

  const roll = (factor: number) => setScroll((now) => Math.min(most, Math.max(0, now + Math.log(factor) * 400)));
  const rollNow = useRef(roll);
  rollNow.current = roll;
  const onValues = useRef((factor: number) => rollNow.current(factor)).current;
  useTimeGestures(holder, onValues);
  const onFold = useCallback((id: string) => setUnfolded((now) => toggled(now, id)), []);

  const nudge = (event: React.KeyboardEvent) => {
    if (pickedCount(keys) === 0 || !event.altKey || readOnly) return;
    const by = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
    if (by === 0) return;
    event.preventDefault();
    event.stopPropagation();
    nudgePicked(by, 0);
  };

  return (
    <>
      <div className="gutter sheet-gutter">
        <FilterField />
        <SheetNames rows={rows} top={top} height={height} picked={controls} unfolded={unfolded} onRoll={onValues} onFold={onFold} />
      </div>
      <div className="curve-plot" ref={holder}>
        <canvas
          ref={canvas}
          tabIndex={0}
          role="img"
          aria-label={`Sheet of ${rows.length} lines. ${pickedCount(keys)} keys picked. Alt and arrows move them; dragged with Alt later keys shift along, with Ctrl a copy goes; H picks the keys at the playhead.`}
          style={{ width: axis.width, height }}
          onPointerDown={(event) => {
            if (!isPanPress(event)) canvas.current?.focus();
            pressSheet({ rows, curves, axis, above: top - HEAD, keys, readOnly }, event, setBox);
          }}
          onKeyDown={nudge}
        />
        {rows.length === 0 && (
          <p className="quiet empty-line over">
            {view.words ? `No channel with keys has "${view.words}" in its name.` : "Nothing that is keyed here passes the filter."}
          </p>
        )}
      </div>
    </>
  );
}

interface SheetNamesProps {
  rows: readonly SheetRow[];
  top: number;
  height: number;
  picked: readonly string[];
  unfolded: ReadonlySet<string>;
  onRoll(factor: number): void;
  onFold(id: string): void;
}

/** The names of the lines in sight, level with what the canvas draws; a drag of keys does not draw them anew. */
const SheetNames = memo(function SheetNames({ rows, top, height, picked, unfolded, onRoll, onFold }: SheetNamesProps) {
  const first = Math.floor(top / ROW_HEIGHT);
  const inSight = rows.slice(first, first + Math.ceil(height / ROW_HEIGHT) + 1);
  return (
    <div className="sheet-names" role="group" aria-label="Lines of the sheet" onWheel={(event) => onRoll(Math.exp(event.deltaY / 400))}>
      {inSight.map((row, i) => (
        <div
          key={row.id}
          className={`sheet-name ${row.kind} ${picked.includes(row.control) ? "picked" : ""}`}
          style={{ top: (first + i) * ROW_HEIGHT - top }}
        >
          {row.kind === "control" && (
            <button
              type="button"
              className="fold"
              aria-label={`${unfolded.has(row.id) ? "Fold" : "Unfold"} ${row.label}`}
              aria-expanded={unfolded.has(row.id)}
              onClick={() => onFold(row.id)}
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
  );
});

/** The lines as they were before, while the new ones say the same. */
function useStableRows(made: readonly SheetRow[]): readonly SheetRow[] {
  const last = useRef(made);
  if (!isSameRows(last.current, made)) last.current = made;
  return last.current;
}

function isSameRows(a: readonly SheetRow[], b: readonly SheetRow[]): boolean {
  const sameChannels = (x: SheetRow, y: SheetRow) =>
    x.channels.length === y.channels.length && x.channels.every((key, i) => key === y.channels[i]);
  return a.length === b.length && a.every((row, i) => row.id === b[i].id && row.kind === b[i].kind && sameChannels(row, b[i]));
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
