import type { PaintedSpan } from "@kneader/core";
import type { PointerEvent } from "react";
import { followPointer } from "../../followPointer.ts";
import { frameAt } from "../../timeAxis.ts";
import { painted, useBrush, wiped } from "../../tune/brush.ts";
import { useWork } from "../../work/workStore.ts";

/** Paint along time from where the pointer was pressed to where it goes; Alt wipes off, Esc gives up. The search hears of it at once. */
export function paintWith(event: PointerEvent, axis: { start: number; end: number; width: number }): void {
  event.preventDefault();
  const box = event.currentTarget.getBoundingClientRect();
  const { settings, set } = useWork.getState();
  const before = (settings.painted as readonly PaintedSpan[] | undefined) ?? [];
  const frame = (at: { clientX: number }) => Math.round(frameAt(axis, at.clientX - box.left));
  const from = frame(event);
  const wipes = event.altKey;
  const { closeness } = useBrush.getState();
  const stroke = (to: number) => {
    const span = { start: Math.min(from, to), end: Math.max(from, to) };
    const after = wipes ? wiped(before, span) : painted(before, { ...span, closeness });
    set({ ...useWork.getState().settings, painted: after });
  };
  let last = from;
  stroke(from);
  followPointer({
    move(moved) {
      const to = frame(moved);
      if (to === last) return;
      last = to;
      stroke(to);
    },
    done: () => undefined,
    cancel: () => set({ ...useWork.getState().settings, painted: before }),
  });
}
