import { create } from "zustand";
import { followPointer } from "../../followPointer.ts";
import { useHovered } from "../../view/hovered.ts";

/** A press that goes no further than this (pixels) is a click. */
const SLACK = 6;

interface TieDrag {
  /** The control that is tied, where it was pressed and where the pointer is, and what is under it. */
  readonly dragged: {
    readonly from: string;
    readonly start: readonly [number, number];
    readonly at: readonly [number, number];
    readonly over: string | null;
  } | null;
  /** Let go over another control: what is offered, and where. */
  readonly dropped: { readonly from: string; readonly to: string; readonly at: readonly [number, number] } | null;
}

export const useTieDrag = create<TieDrag>(() => ({ dragged: null, dropped: null }));

/** From a press on a control, in the view or the channel list: dragged onto another one it is tied to that. */
export function startTieDrag(
  from: string,
  { clientX, clientY }: { clientX: number; clientY: number },
  ended: () => void = () => undefined,
): void {
  const start = [clientX, clientY] as const;
  followPointer({
    move(event) {
      if (!useTieDrag.getState().dragged && Math.hypot(event.clientX - clientX, event.clientY - clientY) <= SLACK) return;
      useTieDrag.setState({ dragged: { from, start, at: [event.clientX, event.clientY], over: controlUnder(event, from) } });
    },
    done() {
      const { dragged } = useTieDrag.getState();
      useTieDrag.setState({ dragged: null, dropped: dragged?.over ? { from, to: dragged.over, at: dragged.at } : null });
      ended();
    },
    cancel() {
      useTieDrag.setState({ dragged: null });
      ended();
    },
  });
}

/** The control whose row, or whose part of the figure, is under the pointer; not the one that is dragged. */
function controlUnder(event: PointerEvent, from: string): string | null {
  const element = document.elementFromPoint(event.clientX, event.clientY);
  const row = element?.closest<HTMLElement>(".control-row")?.querySelector<HTMLElement>("[data-row]")?.dataset.row;
  const found = row ?? (element instanceof HTMLCanvasElement ? useHovered.getState().control : null);
  return found === from ? null : (found ?? null);
}
