import { scaleLinear } from "d3-scale";
import { create } from "zustand";

/** Frames seen in the rack, shared by all trays. */
export interface TimeAxis {
  start: number;
  end: number;
  /** Width of the plots in pixels. */
  width: number;
  show(start: number, end: number): void;
  setWidth(width: number): void;
}

const LEAST = 4;
const MOST = 200000;

export const useTimeAxis = create<TimeAxis>((set) => ({
  start: 1,
  end: 72,
  width: 600,
  show(start, end) {
    const middle = (start + end) / 2;
    const span = Math.min(MOST, Math.max(LEAST, end - start));
    set({ start: middle - span / 2, end: middle + span / 2 });
  },
  setWidth(width) {
    if (width > 0) set({ width });
  },
}));

/** Pixels of a frame in the plots. */
export function xOf(axis: { start: number; end: number; width: number }, frame: number): number {
  return ((frame - axis.start) / (axis.end - axis.start)) * axis.width;
}

export function frameAt(axis: { start: number; end: number; width: number }, x: number): number {
  return axis.start + (x / axis.width) * (axis.end - axis.start);
}

/** Zoom about a frame: a factor above 1 shows more. */
export function zoomTime(about: number, factor: number): void {
  const { start, end, show } = useTimeAxis.getState();
  const span = Math.min(MOST, Math.max(LEAST, (end - start) * factor));
  const share = (about - start) / (end - start);
  show(about - share * span, about + (1 - share) * span);
}

export function panTime(frames: number): void {
  const { start, end, show } = useTimeAxis.getState();
  show(start + frames, end + frames);
}

const marginOf = (start: number, end: number) => Math.max(1, (end - start) * 0.04);

/** Show a range with a margin on both sides. */
export function fitTime(start: number, end: number): void {
  const margin = marginOf(start, end);
  useTimeAxis.getState().show(start - margin, end + margin * 1.6);
}

/** Is a range shown as `fitTime` shows it? */
export function isFitted(start: number, end: number): boolean {
  const axis = useTimeAxis.getState();
  const margin = marginOf(start, end);
  return Math.abs(axis.start - start + margin) < 0.01 && Math.abs(axis.end - end - margin * 1.6) < 0.01;
}

type Seen = { start: number; end: number; width: number };
let lastTicks: { axis: Seen; ticks: number[] } | null = null;

/** Whole frames at which the ruler writes numbers. Every tray asks for the same ones, so the last answer is kept. */
export function rulerTicks({ start, end, width }: Seen): number[] {
  const { axis, ticks } = lastTicks ?? {};
  if (axis && ticks && axis.start === start && axis.end === end && axis.width === width) return ticks;
  const whole = scaleLinear([start, end], [0, width])
    .ticks(Math.max(2, width / 56))
    .filter((tick) => Number.isInteger(tick));
  lastTicks = { axis: { start, end, width }, ticks: whole };
  return whole;
}
