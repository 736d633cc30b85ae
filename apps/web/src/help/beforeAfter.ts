import { channelTitle, makePlayer, type Shot } from "@kneader/core";

/** A channel before and after, as it plays at the whole frames, and the frames at which it then has keys. */
export interface BeforeAfter {
  readonly title: string;
  readonly start: number;
  readonly before: readonly number[];
  readonly after: readonly number[];
}

/** The values of every channel at the whole frames of a span, a row a channel. */
function samples(shot: Shot, start: number, end: number): { keys: readonly string[]; rows: Float64Array[] } {
  const player = makePlayer(shot);
  const keys = [...player.channelIndex.keys()];
  const rows = keys.map(() => new Float64Array(end - start + 1));
  for (let frame = start; frame <= end; frame++) {
    player.readValues(frame);
    keys.forEach((key, i) => {
      rows[i][frame - start] = player.values[player.channelIndex.get(key) as number];
    });
  }
  return { keys, rows };
}

const spread = (row: ArrayLike<number>) => {
  const list = Array.from(row);
  return Math.max(...list) - Math.min(...list);
};

/** The channel that an operation has changed most, among those asked for, in proportion to how much it moves; null where none has changed. */
export function mostChanged(before: Shot, after: Shot, controls: readonly string[] | null): BeforeAfter | null {
  const start = before.range.start;
  const end = Math.min(Math.max(before.range.end, after.range.end), start + 240);
  const [a, b] = [samples(before, start, end), samples(after, start, end)];
  let best = -1;
  let most = 0;
  a.keys.forEach((key, i) => {
    if (controls && !controls.includes(key.slice(0, key.lastIndexOf(".")))) return;
    const size = Math.max(spread(a.rows[i]), spread(b.rows[i]));
    const off = Math.max(...a.rows[i].map((value, n) => Math.abs(value - b.rows[i][n])));
    // A channel that hardly moves says little, however much of it has changed.
    const telling = size < 1e-6 ? 0 : (off / size) * (key.includes(".rotate") ? Math.min(1, size / 20) : Math.min(1, size / 0.1));
    if (telling > most) {
      most = telling;
      best = i;
    }
  });
  if (best < 0 || most < 1e-3) return null;
  return { title: channelTitle(before.rig, a.keys[best]), start, before: [...a.rows[best]], after: [...b.rows[best]] };
}
