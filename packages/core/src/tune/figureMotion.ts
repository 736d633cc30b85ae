import { type ChannelKey, channelKey, splitChannelKey } from "../model/rig.ts";

/** A point that goes along with a control. */
export interface FigurePoint {
  /** Index of the control. */
  readonly control: number;
  /** In the control's own frame. */
  readonly at: readonly [number, number, number];
}

/** What of a figure is looked at: points in space, and channels as all passes leave them. */
export interface Looked {
  readonly points: readonly FigurePoint[];
  readonly channels: readonly ChannelKey[];
}

/** A figure at whole frames from `start` on; also how something changes with each of its numbers. */
export interface FigureMotion {
  readonly start: number;
  readonly count: number;
  /** Places in the world: three numbers a point, all points of a frame together. */
  readonly places: Float64Array;
  /** Values of the channels, all of a frame together. */
  readonly values: Float64Array;
}

export function makeMotion(looked: Looked, start: number, count: number): FigureMotion {
  return {
    start,
    count,
    places: new Float64Array(count * looked.points.length * 3),
    values: new Float64Array(count * looked.channels.length),
  };
}

/** Gathers what several look at, each thing once. */
export class LookList {
  readonly points: FigurePoint[] = [];
  readonly channels: ChannelKey[] = [];

  /** The number of a point. */
  point(control: number, at: readonly number[] = [0, 0, 0]): number {
    const known = this.points.findIndex((one) => one.control === control && one.at.every((value, k) => value === at[k]));
    if (known >= 0) return known;
    return this.points.push({ control, at: [at[0], at[1], at[2]] }) - 1;
  }

  /** The number of a channel. */
  channel(control: string, channel: string): number {
    const key = channelKey(control, channel);
    const known = this.channels.indexOf(key);
    return known >= 0 ? known : this.channels.push(key) - 1;
  }
}

/** The control of a channel key. */
export const controlOfKey = (key: ChannelKey): string => splitChannelKey(key).control;
