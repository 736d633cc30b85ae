import { useRef } from "react";
import { currentDocument, useDocuments } from "../../documents.ts";
import { followPointer } from "../../followPointer.ts";
import { useTimeAxis } from "../../timeAxis.ts";
import { type GapChange, withGaps } from "./poseEdits.ts";

interface GapDrag {
  /** The frames of the gap before the drag. */
  readonly frames: number;
  /** What changes when the gap becomes longer by so many frames. */
  changed(by: number): GapChange[];
  /** Show the frames while the gap is dragged; null: the drag is over. */
  show(frames: number | null): void;
  /** Take it over. With `ripple` later poses go along. */
  commit(changes: readonly GapChange[], ripple: boolean): void;
}

/** Drag a gap longer or shorter, live: sideways by whole frames, with Alt the later poses stay, Esc gives up. */
export function useGapDrag({ frames, changed, show, commit }: GapDrag): {
  readonly isDragging: () => boolean;
  begin(event: React.PointerEvent<HTMLInputElement>): void;
} {
  const dragging = useRef(false);
  const begin = (event: React.PointerEvent<HTMLInputElement>) => {
    const shot = currentDocument();
    if (!shot) return;
    const pressed = event.clientX;
    const axis = useTimeAxis.getState();
    const pixelsAFrame = axis.width / (axis.end - axis.start);
    let by = 0;
    let ripple = true;
    let moved = false;
    const input = event.currentTarget;
    dragging.current = true;
    const stop = () => {
      if (moved) {
        show(null);
        input.blur();
      }
      dragging.current = false;
    };
    followPointer({
      async move(now) {
        const next = Math.round((now.clientX - pressed) / pixelsAFrame);
        if (Math.abs(now.clientX - pressed) > 3) moved = true;
        if (!moved || (next === by && ripple === !now.altKey)) return;
        by = next;
        ripple = !now.altKey;
        show(Math.max(1, frames + by));
        const preview = await withGaps(shot, changed(by), ripple).catch(() => null);
        if (preview && dragging.current) useDocuments.getState().setPreview(preview.shot);
      },
      done() {
        stop();
        if (moved) commit(changed(by), ripple);
      },
      cancel() {
        stop();
        useDocuments.getState().setPreview(null);
      },
    });
  };
  return { isDragging: () => dragging.current, begin };
}
