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

/** Upright lines at the frames the ruler names. */
export function drawTicks(context: CanvasRenderingContext2D, xs: readonly number[], height: number, colour: string): void {
  context.strokeStyle = colour;
  context.lineWidth = 1;
  context.beginPath();
  for (const tick of xs) {
    const x = Math.round(tick) + 0.5;
    context.moveTo(x, 0);
    context.lineTo(x, height);
  }
  context.stroke();
}
