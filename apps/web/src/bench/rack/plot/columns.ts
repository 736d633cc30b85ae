import type { Palette } from "../../../app/theme.ts";
import { rulerTicks, xOf } from "../../timeAxis.ts";

/**
 * Highest of a row of values in each pixel column, so that cost follows pixels: shares of the highest
 * of all (0..1), −1 where there is no value. `start` is where the first value begins, each lasts a frame.
 */
export function columns(
  { values, start }: { values: Float64Array; start: number },
  axis: { start: number; end: number; width: number },
): { heights: Float64Array; most: number } {
  let most = 0;
  for (const value of values) most = Math.max(most, value);
  const heights = new Float64Array(Math.ceil(axis.width)).fill(-1);
  const perPixel = (axis.end - axis.start) / axis.width;
  for (let x = 0; x < heights.length; x++) {
    const from = Math.floor(axis.start + x * perPixel - start);
    const to = Math.max(from, Math.ceil(axis.start + (x + 1) * perPixel - start) - 1);
    for (let i = Math.max(0, from); i <= Math.min(to, values.length - 1); i++)
      heights[x] = Math.max(heights[x], most > 0 ? values[i] / most : 0);
  }
  return { heights, most };
}

/** Fill the columns from a floor upward and draw a line along their tops. */
export function drawColumns(context: CanvasRenderingContext2D, heights: Float64Array, floor: number, room: number, colour: string): void {
  context.fillStyle = `${colour}55`;
  context.beginPath();
  heights.forEach((h, x) => {
    if (h >= 0) context.rect(x, floor - h * room, 1, h * room);
  });
  context.fill();
  context.strokeStyle = colour;
  context.lineWidth = 1.5;
  context.beginPath();
  let drawing = false;
  heights.forEach((h, x) => {
    if (h < 0) drawing = false;
    else if (drawing) context.lineTo(x, floor - h * room);
    else {
      context.moveTo(x, floor - h * room);
      drawing = true;
    }
  });
  context.stroke();
}

/** The ground of a plot: its colour, and an upright line at each frame the ruler names. */
export function drawGround(
  context: CanvasRenderingContext2D,
  axis: { start: number; end: number; width: number },
  height: number,
  { plot, line }: Pick<Palette, "plot" | "line">,
): void {
  context.fillStyle = plot;
  context.fillRect(0, 0, axis.width, height);
  context.strokeStyle = line;
  context.lineWidth = 1;
  context.beginPath();
  for (const tick of rulerTicks(axis)) {
    const x = Math.round(xOf(axis, tick)) + 0.5;
    context.moveTo(x, 0);
    context.lineTo(x, height);
  }
  context.stroke();
}
