import { sampleTrack, type Track, trackOf } from "../curve/track.ts";
import type { ChannelKey } from "../model/rig.ts";
import type { Pass, Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";
import { envelope } from "../passes/envelope.ts";
import { timedKind } from "../passes/kinds.ts";
import { passMembers } from "../passes/members.ts";
import type { FrameReader } from "../passes/passKind.ts";

/** A frame at which layers are read, worked out from the frame that is asked for. */
export interface TimeNode {
  /** Index of the node above it, from whose frame this one follows. */
  readonly from: number;
  readonly pass: Pass;
  readonly weight: Track;
  readonly read: (frame: number) => number;
}

/**
 * Passes that read what is below at other frames, gone through from the top down: below one of them its
 * members have a frame of their own. `nodeAt` says for each pass which frame each channel has there.
 */
export function layTimes(shot: Shot, active: readonly Pass[], channelIndex: ReadonlyMap<string, number>, channels: number) {
  const nodes: TimeNode[] = [];
  const nodeAt: Int32Array[] = [];
  let nodeOf = new Int32Array(channels);
  for (let p = active.length - 1; p >= 0; p--) {
    const pass = active[p];
    const kind = timedKind(pass.kind);
    nodeAt[p] = nodeOf;
    if (!kind) continue;
    const reader = kind.reader(pass, shot);
    const below = nodeOf.slice();
    const made = new Map<FrameReader, Map<number, number>>();
    for (const key of passMembers(shot, pass)) {
      const i = channelIndex.get(key);
      if (i === undefined) continue;
      const from = nodeOf[i];
      const read = reader(key);
      const alike = made.get(read) ?? new Map<number, number>();
      made.set(read, alike);
      let node = alike.get(from);
      if (node === undefined) {
        nodes.push({ from, pass, weight: trackOf(pass.weight), read });
        node = nodes.length;
        alike.set(from, node);
      }
      below[i] = node;
    }
    nodeOf = below;
  }
  return { nodes, nodeAt, nodeOfBase: nodeOf };
}

/** The frame at which what is below a pass is read: on the way to where the pass says by as much as its weight. */
export function nodeFrame({ pass, weight, read }: Pick<TimeNode, "pass" | "weight" | "read">, frame: number): number {
  const share = sampleTrack(weight, frame) * envelope(pass.range, frame);
  if (share === 0) return frame;
  const other = read(frame);
  return share === 1 ? other : frame + (other - frame) * share;
}

/**
 * Which frame of base motion plays at a frame on a channel, by the passes that are on; null when none of
 * them reads it at another frame.
 */
export function playedFrames(shot: Shot, key: ChannelKey): ((frame: number) => number) | null {
  const readers = activePasses(shot).flatMap((pass) => {
    const kind = timedKind(pass.kind);
    if (!kind || !passMembers(shot, pass).includes(key)) return [];
    return [{ pass, weight: trackOf(pass.weight), read: kind.reader(pass, shot)(key) }];
  });
  if (readers.length === 0) return null;
  return (frame) => readers.reduceRight((at, reader) => nodeFrame(reader, at), frame);
}
