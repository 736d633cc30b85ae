import {
  type ChannelKey,
  type Control,
  type Curve,
  channelLabel,
  type Curves,
  keyBefore,
  placesOf,
  splitChannelKey,
  Tangent,
  unionOfTimes,
} from "@kneader/core";
import { type ChannelFilter, listedChannels } from "../channels/channelFilter.ts";
import { markIndexOf } from "../curves/curveView.ts";

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

/** The keys of one curve or of several together, column by column. */
export interface RowKeys {
  /** Frames with a key on any of the channels, rising. */
  readonly times: Float64Array;
  /** How many of the channels that move have a key there. */
  readonly counts: Uint16Array;
  /** How many channels change from there to the next time; where none does, all hold. */
  readonly changing: Uint16Array;
  /** By time: the mark of the keys there, by its place in `keyMarks`, or `MIXED` where they differ. */
  readonly marks: Uint8Array;
  /** How many channels move; where as many have a key the pose is complete. */
  readonly moving: number;
}

/** Keys of different kinds at one time. */
export const MIXED = 255;

/** By line or control: the curves it was last worked out from. A preview changes few of them, and the others stay. */
const kept = new Map<string, { curves: readonly Curve[]; keys: RowKeys }>();
const ofCurve = new WeakMap<Curve, RowKeys>();

/** Keys of a line, worked out once for each state of its curves; the summary from what its controls have. */
export function rowKeys(layer: Curves, row: SheetRow): RowKeys {
  if (row.kind !== "all") return keysOfCurves(row.id, row.channels, layer);
  const byControl = new Map<string, ChannelKey[]>();
  for (const key of row.channels) {
    const { control } = splitChannelKey(key);
    byControl.set(control, [...(byControl.get(control) ?? []), key]);
  }
  const curves = row.channels.map((key) => layer[key]);
  return remembered(`all ${row.id}`, curves, () =>
    together(
      [...byControl].map(([control, keys]) => keysOfCurves(control, keys, layer)),
      false,
    ),
  );
}

function keysOfCurves(id: string, channels: readonly ChannelKey[], layer: Curves): RowKeys {
  const curves = channels.map((key) => layer[key]);
  return remembered(id, curves, () => together(curves.map(keysOfCurve)));
}

function remembered(id: string, curves: readonly Curve[], make: () => RowKeys): RowKeys {
  const last = kept.get(id);
  if (last && last.curves.length === curves.length && last.curves.every((curve, i) => curve === curves[i])) return last.keys;
  const keys = make();
  kept.set(id, { curves, keys });
  return keys;
}

function keysOfCurve(curve: Curve): RowKeys {
  let keys = ofCurve.get(curve);
  if (!keys) {
    const n = curve.times.length;
    const changing = new Uint16Array(n);
    for (let i = 0; i + 1 < n; i++) changing[i] = isHold(curve, i) ? 0 : 1;
    const marks = new Uint8Array(n);
    for (let i = 0; i < n; i++) marks[i] = markIndexOf(curve, i);
    keys = { times: curve.times, counts: new Uint16Array(n).fill(n > 1 ? 1 : 0), changing, marks, moving: n > 1 ? 1 : 0 };
    ofCurve.set(curve, keys);
  }
  return keys;
}

/**
 * Several rows of keys as one. Rows with the same times are added up key by key before different ones are
 * joined. Of a whole figure the kinds nearly always differ, so `kinds` false calls them all mixed.
 */
function together(rows: readonly RowKeys[], kinds = true): RowKeys {
  const byTimes = new Map<Float64Array, Pick<RowKeys, "counts" | "changing" | "marks">>();
  for (const { times, counts, changing, marks } of rows) {
    const sum = byTimes.get(times);
    if (!sum) byTimes.set(times, { counts: counts.slice(), changing: changing.slice(), marks: marks.slice() });
    else
      for (let i = 0; i < times.length; i++) {
        sum.counts[i] += counts[i];
        sum.changing[i] += changing[i];
      }
    if (sum && kinds) for (let i = 0; i < times.length; i++) if (sum.marks[i] !== marks[i]) sum.marks[i] = MIXED;
  }
  if (!kinds) for (const { marks } of byTimes.values()) marks.fill(MIXED);
  const moving = rows.reduce((sum, row) => sum + row.moving, 0);
  const times = unionOfTimes(byTimes.keys());
  const only = byTimes.get(times);
  if (only) return { times, ...only, moving };
  const counts = new Uint16Array(times.length);
  const changing = new Uint16Array(times.length);
  const marks = new Uint8Array(times.length);
  const marked = new Uint8Array(times.length);
  // A change lasts until its row's next key, so it is noted where it begins and ends and summed up below.
  const turns = new Int32Array(times.length);
  for (const [row, sum] of byTimes) {
    let now = 0;
    placesOf(row, times, (at, i) => {
      counts[at] += sum.counts[i];
      turns[at] += sum.changing[i] - now;
      now = sum.changing[i];
      marks[at] = marked[at] === 0 || marks[at] === sum.marks[i] ? sum.marks[i] : MIXED;
      marked[at] = 1;
    });
  }
  for (let i = 0, now = 0; i < times.length; i++) {
    now += turns[i];
    changing[i] = now;
  }
  return { times, counts, changing, marks, moving };
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

/** Does a segment stay at one value all along? */
function isHold(curve: Curve, i: number): boolean {
  if (curve.values[i] !== curve.values[i + 1]) return false;
  return (
    curve.kindOut[i] === Tangent.stepped ||
    curve.kindIn[i + 1] === Tangent.stepped ||
    (curve.slopeOut[i] === 0 && curve.slopeIn[i + 1] === 0)
  );
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
