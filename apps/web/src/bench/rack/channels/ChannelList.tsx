import { useVirtualizer } from "@tanstack/react-virtual";
import { layerControls, layerCurves, ownControl } from "@kneader/core";
import { type RefObject, useEffect, useMemo, useRef, useState } from "react";
import { useShownKeys } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { shownChannels } from "../curves/shownCurves.ts";
import { NO_FILTER } from "./channelFilter.ts";
import { ChannelRow } from "./ChannelRow.tsx";
import { channelRows } from "./channelRows.ts";
import { ControlRow } from "./ControlRow.tsx";
import { FilterField } from "./FilterField.tsx";
import { useChannelView } from "./channelView.ts";

const ROW = 24;

/** Controls and their channels with values that can be typed. Picking here is picking everywhere. */
export function ChannelList() {
  const shot = useShownKeys();
  const { controls, channels, layer } = useSelection();
  const view = useChannelView();
  const [folds, setFolds] = useState<ReadonlyMap<string, boolean>>(new Map());
  const [active, setActive] = useState<string | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const locked = useMemo(() => new Set(shot.locked), [shot.locked]);
  const shown = useMemo(
    () => new Set(shownChannels(shot, layer, controls, channels, view.hidden)),
    [shot, layer, controls, channels, view.hidden],
  );
  const rows = useMemo(
    () =>
      channelRows(layerControls(shot, layer), ownControl(shot, layer) ? NO_FILTER : view, {
        curves: layerCurves(shot, layer),
        picked: controls,
        locked,
        shown,
        folds,
      }),
    [shot, layer, view, controls, locked, shown, folds],
  );
  const list = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 8 });

  useInSight(rows, scroller, controls[controls.length - 1]);

  const fold = (id: string, open: boolean) => setFolds(new Map(folds).set(id, open));
  const at = Math.max(
    0,
    rows.findIndex((row) => row.id === active),
  );
  /** Up and down go from line to line, left and right fold; Tab leaves the list. */
  const walk = (event: React.KeyboardEvent) => {
    if (event.target instanceof HTMLInputElement) return;
    const row = rows[at];
    if (!row) return;
    if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      const next = Math.min(rows.length - 1, Math.max(0, at + (event.key === "ArrowDown" ? 1 : -1)));
      setActive(rows[next].id);
      list.scrollToIndex(next);
      requestAnimationFrame(() => scroller.current?.querySelector<HTMLElement>(`[data-row="${CSS.escape(rows[next].id)}"]`)?.focus());
    } else if (row.kind === "control" && (event.key === "ArrowLeft" || event.key === "ArrowRight"))
      fold(row.id, event.key === "ArrowRight");
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <div className="channel-list">
      <FilterField />
      <div
        className="channel-scroll"
        ref={scroller}
        role="group"
        aria-label="Channels"
        onKeyDown={walk}
        onFocus={({ target }) => setActive(target.closest<HTMLElement>("[data-line]")?.dataset.line ?? null)}
      >
        <div style={{ height: list.getTotalSize(), position: "relative" }}>
          {list.getVirtualItems().map(({ index, start }) => {
            const row = rows[index];
            return (
              <div key={row.id} className="channel-line" data-line={row.id} style={{ top: start }}>
                {row.kind === "control" ? (
                  <ControlRow
                    control={row.control}
                    channels={row.channels}
                    open={row.open}
                    locked={locked}
                    active={index === at}
                    onFold={() => fold(row.id, !row.open)}
                  />
                ) : (
                  <ChannelRow
                    shot={shot}
                    control={row.control}
                    channel={row.channel}
                    shown={shown.has(row.id)}
                    locked={locked.has(row.id)}
                    active={index === at}
                  />
                )}
              </div>
            );
          })}
        </div>
        {rows.length === 0 && (
          <p className="quiet empty-line">{view.words ? `No channel has "${view.words}" in its name.` : "No channel passes the filter."}</p>
        )}
      </div>
    </div>
  );
}

/** A control picked elsewhere is brought into sight, its channels with it as far as there is room. */
function useInSight(
  rows: readonly { readonly id: string; readonly kind: string }[],
  scroller: RefObject<HTMLElement | null>,
  picked: string | undefined,
): void {
  const now = useRef(rows);
  now.current = rows;
  useEffect(() => {
    const box = scroller.current;
    const at = now.current.findIndex((row) => row.id === picked);
    if (!box || at < 0) return;
    const next = now.current.findIndex((row, i) => i > at && row.kind === "control");
    const end = (next < 0 ? now.current.length : next) * ROW;
    box.scrollTop = Math.min(at * ROW, Math.max(box.scrollTop, end - box.clientHeight));
  }, [picked, scroller]);
}
