import type { Palette } from "../../../app/theme.ts";
import { followPointer } from "../../followPointer.ts";

/** A box dragged open on empty ground, in pixels of the plot. */
export interface Box {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

export interface Spot {
  readonly x: number;
  readonly y: number;
}

/** From screen to plot for one press. */
export function spotsIn(event: React.PointerEvent | React.MouseEvent): (at: { clientX: number; clientY: number }) => Spot {
  const bounds = event.currentTarget.getBoundingClientRect();
  return ({ clientX, clientY }) => ({ x: clientX - bounds.left, y: clientY - bounds.top });
}

/** Follow a press on empty ground: `show` has the box as it grows, `done` what it became, or null after a mere click. */
export function followBox(
  start: Spot,
  at: (event: PointerEvent) => Spot,
  show: (box: Box | null) => void,
  done: (box: Box | null) => void,
): void {
  let box: Box = { x0: start.x, y0: start.y, x1: start.x, y1: start.y };
  followPointer({
    move(event) {
      const { x, y } = at(event);
      box = { ...box, x1: x, y1: y };
      show(box);
    },
    done() {
      show(null);
      done(Math.hypot(box.x1 - box.x0, box.y1 - box.y0) > 3 ? box : null);
    },
    cancel: () => show(null),
  });
}

export function drawPickBox(context: CanvasRenderingContext2D, box: Box, palette: Palette): void {
  context.fillStyle = `${palette.plum}1c`;
  context.strokeStyle = palette.plum;
  context.lineWidth = 1;
  context.beginPath();
  context.rect(Math.min(box.x0, box.x1) + 0.5, Math.min(box.y0, box.y1) + 0.5, Math.abs(box.x1 - box.x0), Math.abs(box.y1 - box.y0));
  context.fill();
  context.stroke();
}
