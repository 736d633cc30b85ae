import { type ChannelKey, type Curve, channelLabel, type Curves, keyBefore, placesOf, type Rig, unionOfTimes } from "@kneader/core";
import { type ChannelFilter, listedChannels } from "../channels/channelFilter.ts";
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
export function sheetRows(
  rig: Rig,
  state: Parameters<typeof listedChannels>[2],
  view: ChannelFilter & { readonly hidden: ReadonlySet<ChannelKey> },
  unfolded: ReadonlySet<string>,
): SheetRow[] {
  const rows: SheetRow[] = [];
  for (const control of rig.controls) {
    const channels = listedChannels(control, view, state).filter((key) => key in state.curves && !view.hidden.has(key));
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

/** By line: the curves it was last worked out from. A preview changes few of them, and the other lines stay. */
const kept = new Map<string, { curves: readonly Curve[]; keys: RowKeys }>();

/** Keys of a line, worked out once for each state of its curves. */
export function rowKeys(layer: Curves, row: SheetRow): RowKeys {
  const curves = row.channels.map((key) => layer[key]);
  const last = kept.get(row.id);
  if (last && last.curves.length === curves.length && last.curves.every((curve, i) => curve === curves[i])) return last.keys;
  const keys = gather(curves);
  kept.set(row.id, { curves, keys });
  return keys;
}

function gather(curves: readonly Curve[]): RowKeys {
  const times = unionOfTimes(curves.map((curve) => curve.times));
  const counts = new Uint16Array(times.length);
  // A change spreads over every time within its segment, so it is noted at both ends and summed up below.
  const moves = new Int32Array(times.length);
  for (const curve of curves) {
    const n = curve.times.length;
    const alive = n > 1 ? 1 : 0;
    placesOf(curve.times, times, (at, i) => {
      counts[at] += alive;
      if (i > 0 && !isHold(curve, i - 1)) moves[at]--;
      if (i + 1 < n && !isHold(curve, i)) moves[at]++;
    });
  }
  const holds = new Uint8Array(times.length);
  for (let i = 0, changing = 0; i + 1 < times.length; i++) {
    changing += moves[i];
    if (changing === 0) holds[i] = 1;
  }
  return { times, counts, moving: curves.filter((curve) => curve.times.length > 1).length, holds };
}

/** A mark of a line: one key, or the keys `from`–`to` that stand too close to be told apart. */
export interface SheetMark {
  readonly from: number;
  readonly to: number;
  readonly picked: boolean;
}

/** Keys closer than this (pixels) are one bar. */
const CROWDED = 5;

/** The marks of a line in sight, and those just outside whose edge or hold reaches into sight. */
export function sheetMarks(
  times: Float64Array,
  picked: ReadonlySet<number>,
  axis: { start: number; end: number; width: number },
): SheetMark[] {
  const crowded = (CROWDED / axis.width) * (axis.end - axis.start);
  const marks: SheetMark[] = [];
  for (let i = Math.max(0, keyBefore(times, axis.start - crowded)); i < times.length && times[i] < axis.end + crowded; i++) {
    const [from, isPicked] = [i, picked.has(times[i])];
    while (i + 1 < times.length && times[i + 1] - times[i] < crowded && times[i] < axis.end && picked.has(times[i + 1]) === isPicked) i++;
    marks.push({ from, to: i, picked: isPicked });
  }
  return marks;
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

type Picked = Readonly<Record<ChannelKey, readonly number[]>>;

/** Join what is picked with more of it. */
export function joined(a: Picked, b: Picked): Record<ChannelKey, readonly number[]> {
  const all: Record<ChannelKey, readonly number[]> = { ...a };
  for (const [key, times] of Object.entries(b)) all[key] = [...new Set([...(all[key] ?? []), ...times])];
  return all;
}

/** By line: what its picked times were last worked out from. */
const keptPicks = new Map<string, { row: SheetRow; picked: Picked; times: ReadonlySet<number> }>();

/** Frames at which a line has a picked key. */
export function pickedTimes(row: SheetRow, picked: Picked): ReadonlySet<number> {
  const last = keptPicks.get(row.id);
  if (last && last.picked === picked && (last.row === row || last.row.channels.join() === row.channels.join())) return last.times;
  const times = new Set(row.channels.flatMap((key) => picked[key] ?? []));
  keptPicks.set(row.id, { row, picked, times });
  return times;
}
