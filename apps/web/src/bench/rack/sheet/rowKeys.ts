import { type ChannelKey, type Curve, type Curves, placesOf, splitChannelKey, Tangent, unionOfTimes } from "@kneader/core";
import { markIndexOf } from "../curves/curveView.ts";
import type { SheetRow } from "./sheetView.ts";

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
  return remembered(`all ${row.id}`, curves, () => summed([...byControl].map(([control, keys]) => keysOfCurves(control, keys, layer))));
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

/** What rows with the same times add up to. */
interface Sum {
  readonly counts: Uint16Array;
  readonly changing: Uint16Array;
  readonly marks: Uint8Array;
  /** How many rows these are. */
  rows: number;
}

type Sums = Map<Float64Array, Sum>;

/** Add a row to what rows with its times add up to, or take it away. */
function add(sums: Sums, { times, counts, changing, marks }: RowKeys, sign: 1 | -1): void {
  const sum = sums.get(times);
  if (!sum) {
    sums.set(times, { counts: counts.slice(), changing: changing.slice(), marks: marks.slice(), rows: 1 });
    return;
  }
  sum.rows += sign;
  if (sum.rows === 0) sums.delete(times);
  for (let i = 0; i < times.length; i++) {
    sum.counts[i] += sign * counts[i];
    sum.changing[i] += sign * changing[i];
  }
}

/** The rows of the whole figure that were added up last: a drag changes a few of them. */
let last: { readonly rows: ReadonlySet<RowKeys>; readonly sums: Sums } = { rows: new Set(), sums: new Map() };

/** All rows of a figure as one. Their kinds nearly always differ: they are called mixed. */
function summed(given: readonly RowKeys[]): RowKeys {
  const rows = new Set(given);
  const gone = [...last.rows].filter((row) => !rows.has(row));
  const isNear = 2 * gone.length < rows.size;
  const { sums } = isNear ? last : { sums: new Map() as Sums };
  for (const row of isNear ? gone : []) add(sums, row, -1);
  for (const row of rows) if (!isNear || !last.rows.has(row)) add(sums, row, 1);
  last = { rows, sums };
  for (const { marks } of sums.values()) marks.fill(MIXED);
  return joinedSums(sums, given);
}

/** Rows of keys of a control as one. Rows with the same times are added up key by key before different ones are joined. */
function together(rows: readonly RowKeys[]): RowKeys {
  const sums: Sums = new Map();
  for (const row of rows) {
    const sum = sums.get(row.times);
    if (sum) for (let i = 0; i < row.marks.length; i++) if (sum.marks[i] !== row.marks[i]) sum.marks[i] = MIXED;
    add(sums, row, 1);
  }
  return joinedSums(sums, rows);
}

function joinedSums(sums: Sums, rows: readonly RowKeys[]): RowKeys {
  const moving = rows.reduce((sum, row) => sum + row.moving, 0);
  const times = unionOfTimes(sums.keys());
  const only = sums.get(times);
  if (only) return { times, counts: only.counts.slice(), changing: only.changing.slice(), marks: only.marks.slice(), moving };
  const counts = new Uint16Array(times.length);
  const changing = new Uint16Array(times.length);
  const marks = new Uint8Array(times.length);
  const marked = new Uint8Array(times.length);
  // A change lasts until its row's next key, so it is noted where it begins and ends and summed up below.
  const turns = new Int32Array(times.length);
  for (const [row, sum] of sums) {
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

/** Does a segment stay at one value all along? */
function isHold(curve: Curve, i: number): boolean {
  if (curve.values[i] !== curve.values[i + 1]) return false;
  return (
    curve.kindOut[i] === Tangent.stepped ||
    curve.kindIn[i + 1] === Tangent.stepped ||
    (curve.slopeOut[i] === 0 && curve.slopeIn[i + 1] === 0)
  );
}
