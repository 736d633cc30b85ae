import type { Shot } from "@kneader/core";
import { currentDocument, useDocuments } from "../../documents.ts";
import { followPointer } from "../../followPointer.ts";
import { frameAt, useTimeAxis } from "../../timeAxis.ts";

/** Something dragged along the time axis by whole frames, live: `shown` is the shot for a look, `keep` is called once when let go. Esc gives up. */
export function dragAlong(
  { clientX }: React.PointerEvent,
  shown: (shot: Shot, by: number) => Shot | null,
  keep: (by: number) => void,
): void {
  const shot = currentDocument();
  if (!shot) return;
  const { setPreview } = useDocuments.getState();
  let by = 0;
  followPointer({
    move(now) {
      const axis = useTimeAxis.getState();
      const next = Math.round(frameAt(axis, now.clientX - clientX) - frameAt(axis, 0));
      if (next === by) return;
      by = next;
      const look = by === 0 ? null : shown(shot, by);
      if (look || by === 0) setPreview(look);
    },
    done() {
      setPreview(null);
      if (by !== 0) keep(by);
    },
    cancel: () => setPreview(null),
  });
}
