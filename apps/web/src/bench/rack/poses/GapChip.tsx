import { sayError } from "@kneader/core";
import { App as AntApp } from "antd";
import { memo, useRef, useState } from "react";
import { typedNumber } from "../../arithmetic.ts";
import { currentDocument, useDocuments, useReadOnly } from "../../documents.ts";
import { followPointer } from "../../followPointer.ts";
import { useSelection } from "../../selection.ts";
import { useTimeAxis } from "../../timeAxis.ts";
import { type GapWish, readGapText } from "./gapText.ts";
import { commitGaps, type GapChange, makeHold, removeHold, withGaps } from "./poseEdits.ts";

interface GapChipProps extends Gap {
  /** Pixels on the strip. */
  left: number;
  width: number;
  hold: boolean;
  /** All gaps in order, for picking several and for typing several at once. */
  gaps: readonly Gap[];
}

interface Gap {
  readonly from: number;
  readonly to: number;
}

/**
 * The number of frames between two poses: drag sideways, roll the wheel, press − and +, or type. Alt: later
 * poses stay. Shift-click picks several, which then change together.
 */
export const GapChip = memo(function GapChip({ from, to, left, width, hold, gaps }: GapChipProps) {
  const gap = { from, to };
  const readOnly = useReadOnly();
  const picked = useSelection((state) => state.gaps);
  const { message } = AntApp.useApp();
  const [text, setText] = useState<string | null>(null);
  const dragging = useRef(false);
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

  const pick = (range: boolean) => {
    const { gaps: now, pickGaps } = useSelection.getState();
    const last = now[now.length - 1];
    if (!range || last === undefined || now.includes(gap.from))
      return pickGaps(now.includes(gap.from) ? now.filter((from) => from !== gap.from) : [...now, gap.from]);
    // Shift takes all from the one picked last.
    const [low, high] = [Math.min(last, gap.from), Math.max(last, gap.from)];
    const between = gaps.filter(({ from }) => from >= low && from <= high).map(({ from }) => from);
    pickGaps([...new Set([...now, ...between])]);
  };

  const drag = (event: React.PointerEvent<HTMLInputElement>) => {
    if (event.button !== 0) return;
    if (event.shiftKey || event.ctrlKey || event.metaKey) {
      event.preventDefault();
      pick(event.shiftKey);
      return;
    }
    if (!isPicked) useSelection.getState().pickGaps([]);
    const shot = currentDocument();
    if (readOnly || !shot) return;
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
        setText(null);
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
        setText(String(Math.max(1, frames + by)));
        const preview = await withGaps(shot, changed(by), ripple).catch(() => null);
        if (preview && dragging.current) useDocuments.getState().setPreview(preview.shot);
      },
      done() {
        stop();
        if (moved) void said(commitGaps(changed(by), ripple));
      },
      cancel() {
        stop();
        useDocuments.getState().setPreview(null);
      },
    });
  };

  const carryOut = (wish: GapWish, ripple: boolean): Promise<string[]> => {
    if (wish.kind === "no hold") return removeHold(gap.from, gap.to);
    if (wish.kind === "hold") return hold ? commitGaps([{ ...gap, frames: wish.frames }], ripple) : makeHold(gap.from, wish.frames);
    const at = gaps.findIndex(({ from }) => from === gap.from);
    // Several numbers on one gap are for it and those after it.
    const targets = together.length === 1 ? gaps.slice(at, at + wish.frames.length) : together;
    if (targets.length < wish.frames.length)
      throw new Error(`${wish.frames.length} gaps were typed and only ${targets.length} follow. The gaps stay as they are.`);
    return commitGaps(
      targets.map(({ from, to }, i) => ({ from, to, frames: wish.frames[i] })),
      ripple,
    );
  };
  const typed = (ripple: boolean) => {
    if (text === null) return;
    setText(null);
    if (text.trim() === "" || text.trim() === String(frames)) return;
    const work = async () =>
      carryOut(
        readGapText(
          text,
          together.map(({ from, to }) => to - from),
          hold,
        ),
        ripple,
      );
    void said(work());
  };

  const narrow = width < 18;
  return (
    <input
      className={`gap mono ${narrow ? "narrow" : ""} ${hold ? "hold" : ""} ${isPicked ? "picked" : ""} ${text !== null ? "editing" : ""}`}
      style={{ left: left + 4, width: Math.max(5, width - 8) }}
      data-gap={`${gap.from} ${gap.to}`}
      aria-label={`Gap from frame ${gap.from} to ${gap.to}${isPicked ? ", picked" : ""}`}
      title={`${hold ? "Hold of " : ""}${frames} ${frames === 1 ? "frame" : "frames"} from ${gap.from} to ${gap.to}. Drag, roll the wheel, press − or +, or type: "4", "4 3 2", "hold 8"${hold ? ', "0" to remove it' : ""}. Alt: later poses stay. Shift-click picks several; right-click for more.`}
      value={text ?? (narrow ? "" : String(frames))}
      readOnly={readOnly}
      onPointerDown={drag}
      onFocus={(event) => {
        setText(String(frames));
        const { target } = event;
        requestAnimationFrame(() => document.activeElement === target && target.select());
      }}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => {
        if (!dragging.current) typed(!keepLater.current);
        keepLater.current = false;
      }}
      onWheel={(event) => {
        event.stopPropagation();
        step(-Math.sign(event.deltaY), !event.altKey);
      }}
      onKeyDown={(event) => {
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
          pick(false);
        } else if ((event.key === "-" || event.key === "+") && (text === null || text === String(frames))) {
          event.preventDefault();
          step(event.key === "+" ? 1 : -1, !event.altKey);
          event.currentTarget.blur();
        } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
          event.preventDefault();
          setText(String(Math.max(1, (typedNumber(text ?? "", frames) ?? frames) + (event.key === "ArrowUp" ? 1 : -1))));
        }
      }}
    />
  );
});
