import { makePlayer, type Shot } from "@kneader/core";

/** How far apart a control is in two shots, frame by frame. */
export interface Difference {
  readonly control: string;
  readonly name: string;
  /** Scene units at whole frames from the start. */
  readonly apart: Float64Array;
  readonly worst: number;
  readonly worstFrame: number;
}

/** At most so many frames are looked at; of longer shots every second, third … one. */
const MOST = 1200;

/** Controls of two shots of one rig that differ, the most first, with the frames looked at. */
export function differences(a: Shot, b: Shot): { frames: number[]; controls: Difference[] } {
  const start = Math.min(a.range.start, b.range.start);
  const end = Math.max(a.range.end, b.range.end);
  const every = Math.max(1, Math.ceil((end - start) / MOST));
  const frames: number[] = [];
  for (let frame = start; frame <= end; frame += every) frames.push(frame);
  const [one, other] = [makePlayer(a), makePlayer(b)];
  const shared = a.rig.controls.filter(({ id }) => other.controlIndex.has(id));
  const apart = shared.map(() => new Float64Array(frames.length));
  frames.forEach((frame, n) => {
    one.pose(frame);
    other.pose(frame);
    shared.forEach(({ id }, c) => {
      const [p, q] = [(one.controlIndex.get(id) as number) * 16, (other.controlIndex.get(id) as number) * 16];
      apart[c][n] = Math.hypot(...[12, 13, 14].map((k) => one.worlds[p + k] - other.worlds[q + k]));
    });
  });
  const controls = shared.map(({ id, name }, c): Difference => {
    let at = 0;
    apart[c].forEach((value, n) => {
      if (value > apart[c][at]) at = n;
    });
    return { control: id, name, apart: apart[c], worst: apart[c][at], worstFrame: frames[at] };
  });
  return { frames, controls: controls.filter(({ worst }) => worst > 1e-6).sort((p, q) => q.worst - p.worst) };
}
