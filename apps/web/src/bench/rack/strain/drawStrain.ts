import { type FrameRange, LEASH, leashAt, type PaintedSpan } from "@kneader/core";
import type { Palette, ThemeName } from "../../../app/theme.ts";
import { xOf } from "../../timeAxis.ts";
import { badness } from "../../tune/strainRows.ts";
import { columns } from "../plot/columns.ts";

/** Heights of the strip of all together, of each of the others, and of the lane that is painted. */
export const SUM = 20;
export const LANE = 17;
export const PAINT = 18;
/** Where the painted lane begins under so many strips. */
export const LANES_END = (rows: number): number => SUM + rows * LANE;

/** From no strain to much of it, by theme. */
const ramps: Readonly<Record<ThemeName, readonly [string, string, string]>> = {
  light: ["#F7EEE4", "#DEAAB2", "#8A2E5C"],
  dusk: ["#2D2933", "#7E4560", "#E58AB4"],
};

const part = (colour: string, k: number) => Number.parseInt(colour.slice(1 + 2 * k, 3 + 2 * k), 16);

/** The colour for a badness of 0 to 1. */
export function colourFor(bad: number, theme: ThemeName): string {
  const [none, some, much] = ramps[theme];
  const [a, b, share] = bad < 0.5 ? [none, some, bad * 2] : [some, much, bad * 2 - 1];
  return `rgb(${[0, 1, 2].map((k) => Math.round(part(a, k) + (part(b, k) - part(a, k)) * share)).join(" ")})`;
}

interface Strip {
  readonly values: Float64Array;
  /** The first frame. */
  readonly start: number;
  readonly seen: number;
  readonly top: number;
  readonly height: number;
}

type Axis = { readonly start: number; readonly end: number; readonly width: number };

/** One strip of colour: the worst of the frames in each pixel column. */
export function drawStrip(
  context: CanvasRenderingContext2D,
  axis: Axis,
  { values, start, seen, top, height }: Strip,
  theme: ThemeName,
): void {
  // A value belongs to its frame, not to the way to the next one.
  const { heights, most } = columns({ values, start: start - 0.5 }, axis);
  let from = 0;
  const colours = Array.from(heights, (h) => (h < 0 ? "" : colourFor(Math.round(badness(h * most, seen) * 48) / 48, theme)));
  for (let x = 1; x <= colours.length; x++) {
    if (x < colours.length && colours[x] === colours[from]) continue;
    if (colours[from]) {
      context.fillStyle = colours[from];
      context.fillRect(from, top, x - from, height);
    }
    from = x;
  }
}

/** How dark a closeness is painted: as it would be free, and as it must stay. */
function darkness(closeness: number): number {
  const leash = leashAt({ all: closeness, painted: [] }, 0);
  return Number.isFinite(leash) ? Math.min(1, Math.max(0.08, 0.35 + Math.log10(LEASH / leash) * 0.25)) : 0;
}

/** The lane that says how closely the motion stays: dark where it must, light where it may go. */
export function drawPaint(
  context: CanvasRenderingContext2D,
  axis: Axis,
  spans: readonly PaintedSpan[],
  all: number,
  range: FrameRange,
  top: number,
  { ink, border }: Pick<Palette, "ink" | "border">,
): void {
  const box = (start: number, end: number, closeness: number) => {
    const [from, to] = [xOf(axis, start - 0.5), xOf(axis, end + 0.5)];
    context.globalAlpha = darkness(closeness);
    context.fillStyle = ink;
    context.fillRect(from, top + 3, to - from, 10);
    context.globalAlpha = 1;
  };
  context.clearRect(xOf(axis, range.start - 0.5), top + 3, xOf(axis, range.end + 0.5) - xOf(axis, range.start - 0.5), 10);
  box(range.start, range.end, all);
  for (const { start, end, closeness } of spans) {
    const [from, to] = [xOf(axis, start - 0.5), xOf(axis, end + 0.5)];
    context.clearRect(from, top + 3, to - from, 10);
    box(start, end, closeness);
    context.strokeStyle = border;
    context.strokeRect(from + 0.5, top + 3.5, Math.max(1, to - from - 1), 9);
  }
}
