import { type ChannelKey, type Curve, channelKey, channelLabel, type Curves, type Shot } from "@kneader/core";
import { matchesWords } from "../channelFilter.ts";
import { markOf } from "../curves/curveView.ts";

export const ROW_HEIGHT = 24;

/** One line of the sheet: everything, a control, or one of its channels. */
export interface SheetRow {
  readonly id: string;
  readonly label: string;
  readonly kind: "all" | "control" | "channel";
  /** Control it belongs to; empty for the summary. */
  readonly control: string;
  /** Channels with a curve that it stands for. */
  readonly channels: readonly ChannelKey[];
}

/** The sheet's lines: a summary, then each control that has keys, unfolded ones with their channels below. */
export function sheetRows(shot: Shot, curves: Curves, words: string, unfolded: ReadonlySet<string>): SheetRow[] {
  const rows: SheetRow[] = [];
  for (const control of shot.rig.controls) {
    const channels = control.channels
      .filter((channel) => channelKey(control.id, channel) in curves && matchesWords(`${control.name} ${channelLabel(channel)}`, words))
      .map((channel) => channelKey(control.id, channel));
    if (channels.length === 0) continue;
    rows.push({ id: control.id, label: control.name, kind: "control", control: control.id, channels });
    if (!unfolded.has(control.id)) continue;
    for (const key of channels)
      rows.push({ id: key, label: channelLabel(key.slice(control.id.length + 1)), kind: "channel", control: control.id, channels: [key] });
  }
  if (rows.length === 0) return [];
  const all = rows.filter((row) => row.kind === "control").flatMap((row) => row.channels);
  return [{ id: "", label: "All keys", kind: "all", control: "", channels: all }, ...rows];
}

/** The keys of a line, column by column. */
export interface RowKeys {
  /** Frames with a key on any of its channels, rising. */
  readonly times: Float64Array;
  /** How many of the channels that move have a key there. */
  readonly counts: Uint16Array;
  /** How many channels move; where as many have a key the pose is complete. */
  readonly moving: number;
  /** By time: 1 where nothing changes from there to the next time. */
  readonly holds: Uint8Array;
}

const kept = new WeakMap<Curves, Map<string, RowKeys>>();

/** Keys of a line, worked out once for each state of the layer. */
export function rowKeys(curves: Curves, row: SheetRow): RowKeys {
  let byRow = kept.get(curves);
  if (!byRow) {
    byRow = new Map();
    kept.set(curves, byRow);
  }
  const name = `${row.id}/${row.channels.length}`;
  let keys = byRow.get(name);
  if (!keys) {
    keys = gather(row.channels.map((key) => curves[key]));
    byRow.set(name, keys);
  }
  return keys;
}

function gather(curves: readonly Curve[]): RowKeys {
  const counts = new Map<number, number>();
  const moves = new Map<number, number>();
  let moving = 0;
  for (const curve of curves) {
    const alive = curve.times.length > 1;
    if (alive) moving++;
    for (let i = 0; i < curve.times.length; i++) {
      const time = curve.times[i];
      counts.set(time, (counts.get(time) ?? 0) + (alive ? 1 : 0));
    }
    // A change spreads over every time within its segment, so it is noted at both ends and summed up below.
    for (let i = 0; i + 1 < curve.times.length; i++) {
      if (isHold(curve, i)) continue;
      moves.set(curve.times[i], (moves.get(curve.times[i]) ?? 0) + 1);
      moves.set(curve.times[i + 1], (moves.get(curve.times[i + 1]) ?? 0) - 1);
    }
  }
  const times = Float64Array.from(counts.keys()).sort();
  let changing = 0;
  const holds = Uint8Array.from(times, (time, i) => {
    changing += moves.get(time) ?? 0;
    return i + 1 < times.length && changing === 0 ? 1 : 0;
  });
  return { times, counts: Uint16Array.from(times, (time) => counts.get(time) ?? 0), moving, holds };
}

/** Does a segment stay at one value all along? */
function isHold(curve: Curve, i: number): boolean {
  if (curve.values[i] !== curve.values[i + 1]) return false;
  return markOf(curve, i) === "stepped" || (curve.slopeOut[i] === 0 && curve.slopeIn[i + 1] === 0);
}

/** The key times of each of a line's channels at some frames: what picking a mark picks. */
export function keysAt(curves: Curves, row: SheetRow, from: number, to: number): Record<ChannelKey, number[]> {
  const picked: Record<ChannelKey, number[]> = {};
  for (const key of row.channels) {
    const times = Array.from(curves[key].times).filter((time) => time >= from && time <= to);
    if (times.length > 0) picked[key] = times;
  }
  return picked;
}

/** Join what is picked with more of it. */
export function joined(
  a: Readonly<Record<ChannelKey, readonly number[]>>,
  b: Readonly<Record<ChannelKey, readonly number[]>>,
): Record<ChannelKey, readonly number[]> {
  const all: Record<ChannelKey, readonly number[]> = { ...a };
  for (const [key, times] of Object.entries(b)) all[key] = [...new Set([...(all[key] ?? []), ...times])];
  return all;
}

/** Frames at which a line has a picked key. */
export function pickedTimes(row: SheetRow, picked: Readonly<Record<ChannelKey, readonly number[]>>): Set<number> {
  return new Set(row.channels.flatMap((key) => picked[key] ?? []));
}
