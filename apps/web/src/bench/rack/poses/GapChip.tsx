import { sayError } from "@kneader/core";
import { App as AntApp } from "antd";
import { memo, useRef, useState } from "react";
import { typedNumber } from "../../arithmetic.ts";
import { useDocuments, useReadOnly } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { readGapText } from "./gapText.ts";
import { carryOutWish, type Gap, pickGap } from "./gapWork.ts";
import { commitGaps, type GapChange } from "./poseEdits.ts";
import { useGapDrag } from "./useGapDrag.ts";

interface GapChipProps extends Gap {
  /** Pixels on the strip. */
  left: number;
  width: number;
  hold: boolean;
  /** Where gaps are too narrow to stand side by side, every other one stands in a second row. */
  second: boolean;
  /** All gaps in order, for picking several and for typing several at once. */
  gaps: readonly Gap[];
}

/** Below this width (pixels) a gap is a bare number of this least width. */
const NARROW = 26;
const LEAST = 18;

/**
 * The number of frames between two poses: drag sideways, roll the wheel, press − and +, or type. Alt: later
 * poses stay. Shift-click picks several, which then change together.
 */
export const GapChip = memo(function GapChip({ from, to, left, width, hold, second, gaps }: GapChipProps) {
  const gap = { from, to };
  const readOnly = useReadOnly();
  const picked = useSelection((state) => state.gaps);
  const { message } = AntApp.useApp();
  const [text, setText] = useState<string | null>(null);
  /** Alt with Enter: the later poses stay. */
  const keepLater = useRef(false);
  const frames = gap.to - gap.from;
  const isPicked = picked.includes(gap.from);
  /** The gaps that change with this one. */
  const together: readonly Gap[] = isPicked ? gaps.filter(({ from }) => picked.includes(from)) : [gap];

  const said = async (work: Promise<string[]>) => {
    try {
      for (const line of await work) message.info(line);
    } catch (error) {
      useDocuments.getState().setPreview(null);
      message.error(sayError(error));
    }
  };
  const changed = (by: number): GapChange[] => together.map(({ from, to }) => ({ from, to, frames: Math.max(1, to - from + by) }));
  const step = (by: number, ripple: boolean) => {
    if (!readOnly) void said(commitGaps(changed(by), ripple));
  };

  const { isDragging, begin } = useGapDrag({
    frames,
    changed,
    show: (now) => setText(now === null ? null : String(now)),
    commit: (changes, ripple) => void said(commitGaps(changes, ripple)),
  });
  const press = (event: React.PointerEvent<HTMLInputElement>) => {
    if (event.button !== 0) return;
    if (event.shiftKey || event.ctrlKey || event.metaKey) {
      event.preventDefault();
      pickGap(gap, gaps, event.shiftKey);
      return;
    }
    if (!isPicked) useSelection.getState().pickGaps([]);
    if (!readOnly) begin(event);
  };
  const typed = (ripple: boolean) => {
    if (text === null) return;
    setText(null);
    if (text.trim() === "" || text.trim() === String(frames)) return;
    const lengths = together.map(({ from, to }) => to - from);
    void said((async () => carryOutWish(readGapText(text, lengths, hold), gap, hold, together, gaps, ripple))());
  };
  const keys = (event: React.KeyboardEvent<HTMLInputElement>) => {
    event.stopPropagation();
    if (event.key === "Enter") {
      // Leaving the field is what takes the number over, once.
      keepLater.current = event.altKey;
      event.currentTarget.blur();
    } else if (event.key === "Escape") {
      setText(null);
      event.currentTarget.blur();
    } else if (event.key === " " && event.ctrlKey) {
      event.preventDefault();
      pickGap(gap, gaps, false);
    } else if ((event.key === "-" || event.key === "+") && (text === null || text === String(frames))) {
      event.preventDefault();
      step(event.key === "+" ? 1 : -1, !event.altKey);
      event.currentTarget.blur();
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      setText(String(Math.max(1, (typedNumber(text ?? "", frames) ?? frames) + (event.key === "ArrowUp" ? 1 : -1))));
    }
  };

  const narrow = width < NARROW;
  return (
    <input
      className={`gap mono ${narrow ? (second ? "narrow second" : "narrow") : ""} ${hold ? "hold" : ""} ${isPicked ? "picked" : ""} ${text !== null ? "editing" : ""}`}
      style={narrow ? { left: left + width / 2 - LEAST / 2, width: LEAST } : { left: left + 4, width: width - 8 }}
      data-gap={`${gap.from} ${gap.to}`}
      aria-label={`Gap from frame ${gap.from} to ${gap.to}${isPicked ? ", picked" : ""}`}
      title={`${hold ? "Hold of " : ""}${frames} ${frames === 1 ? "frame" : "frames"} from ${gap.from} to ${gap.to}. Drag, roll the wheel, press − or +, or type: "4", "4 3 2", "hold 8"${hold ? ', "0" to remove it' : ""}. Alt: later poses stay. Shift-click picks several; right-click for more.`}
      value={text ?? String(frames)}
      readOnly={readOnly}
      onPointerDown={press}
      onFocus={(event) => {
        setText(String(frames));
        const { target } = event;
        requestAnimationFrame(() => document.activeElement === target && target.select());
      }}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => {
        if (!isDragging()) typed(!keepLater.current);
        keepLater.current = false;
      }}
      onWheel={(event) => {
        event.stopPropagation();
        step(-Math.sign(event.deltaY), !event.altKey);
      }}
      onKeyDown={keys}
    />
  );
});
