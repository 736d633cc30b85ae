import { type ChannelKey, type Control, channelLabel, type Curves, keyBefore, unionOfTimes } from "@kneader/core";
import { type ChannelFilter, listedChannels } from "../channels/channelFilter.ts";

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
  controls: readonly Control[],
  state: Parameters<typeof listedChannels>[2],
  view: ChannelFilter & { readonly hidden: ReadonlySet<ChannelKey> },
  unfolded: ReadonlySet<string>,
): SheetRow[] {
  const rows: SheetRow[] = [];
  for (const control of controls) {
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

/** A mark of a line: one key, or the keys `from`–`to` that stand too close to be told apart. */
export interface SheetMark {
  readonly from: number;
  readonly to: number;
  readonly picked: boolean;
}

/** Keys closer than this (pixels) are one bar. */
const CROWDED = 5;

/** The marks of a line in sight, and those just outside whose edge or hold reaches into sight. */
export function sheetMarks(times: Float64Array, picked: Float64Array, axis: { start: number; end: number; width: number }): SheetMark[] {
  const crowded = (CROWDED / axis.width) * (axis.end - axis.start);
  const marks: SheetMark[] = [];
  let i = Math.max(0, keyBefore(times, axis.start - crowded));
  // Both rows of times rise, so one walk along both tells which keys are picked.
  let p = Math.max(0, keyBefore(picked, axis.start - crowded));
  const isPicked = (time: number): boolean => {
    while (p < picked.length && picked[p] < time) p++;
    return picked[p] === time;
  };
  for (let next = i < times.length && isPicked(times[i]); i < times.length && times[i] < axis.end + crowded; i++) {
    const [from, here] = [i, next];
    for (; i + 1 < times.length; i++) {
      next = isPicked(times[i + 1]);
      if (next !== here || times[i + 1] - times[i] >= crowded || times[i] >= axis.end) break;
    }
    marks.push({ from, to: i, picked: here });
  }
  return marks;
}

/** The key times of each of a line's channels at some frames: what picking a mark picks. Curves with the same times share one list. */
export function keysAt(curves: Curves, row: SheetRow, from: number, to: number): Record<ChannelKey, readonly number[]> {
  const lists = new Map<Float64Array, readonly number[]>();
  const picked: Record<ChannelKey, readonly number[]> = {};
  for (const key of row.channels) {
    const { times } = curves[key];
    const list = lists.get(times) ?? Array.from(times.subarray(keyBefore(times, from - 1e-9) + 1, keyBefore(times, to) + 1));
    lists.set(times, list);
    if (list.length > 0) picked[key] = list;
  }
  return picked;
}

type Picked = Readonly<Record<ChannelKey, readonly number[]>>;

/** Join what is picked with more of it. */
export function joined(a: Picked, b: Picked): Record<ChannelKey, readonly number[]> {
  const all: Record<ChannelKey, readonly number[]> = { ...a };
  for (const [key, times] of Object.entries(b)) all[key] = key in a ? [...new Set([...a[key], ...times])] : times;
  return all;
}

/** By list of picked times: the same ones rising. */
const rising = new WeakMap<readonly number[], Float64Array>();

function risingTimes(list: readonly number[]): Float64Array {
  let times = rising.get(list);
  if (!times) {
    times = Float64Array.from(list).sort();
    rising.set(list, times);
  }
  return times;
}

/** By line: what its picked times were last worked out from. */
const keptPicks = new Map<string, { row: SheetRow; picked: Picked; times: Float64Array }>();

/** Frames at which a line has a picked key, rising. */
export function pickedTimes(row: SheetRow, picked: Picked): Float64Array {
  const last = keptPicks.get(row.id);
  if (last && last.picked === picked && (last.row === row || last.row.channels.join() === row.channels.join())) return last.times;
  const lists = new Set(row.channels.map((key) => picked[key]).filter((list) => list !== undefined));
  const times = unionOfTimes([...lists].map(risingTimes));
  keptPicks.set(row.id, { row, picked, times });
  return times;
}
