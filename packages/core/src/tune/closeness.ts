import type { FrameRange } from "../model/shot.ts";
import { type ChannelKey, channelUnit, type Rig, splitChannelKey } from "../model/rig.ts";

/**
 * How closely a tuned motion stays to what it was. At closeness 1 nothing turns by more than ten degrees from where it
 * was, at 10 by one degree, at 1 000 by a hundredth of one; at 0 by as much as it likes. Lengths go by what ten degrees
 * make of the figure's size.
 */
export interface Closeness {
  readonly all: number;
  /** By body part, or by the id of a control, which goes before its part: a factor of its own. */
  readonly parts: Readonly<Record<string, number>>;
  /** Spans painted along time, each with a closeness of its own; later ones go before earlier ones. */
  readonly painted: readonly PaintedSpan[];
  /** Frames whose pose stays as it is. */
  readonly pinned: readonly number[];
}

export interface PaintedSpan extends FrameRange {
  readonly closeness: number;
}

/** Degrees a channel may go at closeness 1. */
export const LEASH = 10;

/** How far things may turn at a frame, degrees; infinite where they are free. */
export function leashAt({ all, painted }: Pick<Closeness, "all" | "painted">, frame: number): number {
  const span = painted.findLast(({ start, end }) => frame >= start - 1e-9 && frame <= end + 1e-9);
  const closeness = span ? span.closeness : all;
  return closeness > 0 ? LEASH / closeness : Number.POSITIVE_INFINITY;
}

/** How far (scene units) a place may go where things may turn by so many degrees: as they take the end of a few links, half of the figure's size. */
export const placeLeash = (size: number, degrees: number): number => (degrees * Math.PI * size) / 360;

/** By how much closer a control stays than the others. */
export function closerBy({ parts }: Pick<Closeness, "parts">, rig: Rig, key: ChannelKey): number {
  const { control } = splitChannelKey(key);
  const part = rig.controls.find(({ id }) => id === control)?.part;
  return parts[control] ?? (part ? (parts[part] ?? 1) : 1);
}

/** What of a channel's own unit does as much as a degree, for a figure of this size. */
export function asDegree(key: ChannelKey, size: number): number {
  const unit = channelUnit(splitChannelKey(key).channel);
  if (unit === "length") return (size * Math.PI) / 180;
  return unit === "factor" ? Math.PI / 180 : 1;
}
