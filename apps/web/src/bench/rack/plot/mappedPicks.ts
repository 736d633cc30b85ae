import { type ChannelKey, type KeyMap, mapTime } from "@kneader/core";

/** Picked times after a map. Curves that share one list of times go on sharing it. */
export function mappedPicks(keys: Readonly<Record<ChannelKey, readonly number[]>>, map: KeyMap): Record<ChannelKey, readonly number[]> {
  const lists = new Map<readonly number[], readonly number[]>();
  const mapped: Record<ChannelKey, readonly number[]> = {};
  for (const [key, times] of Object.entries(keys)) {
    let list = lists.get(times);
    if (!list) {
      const moved = times.map((time) => mapTime(time, map));
      list = map.wholeFrames ? [...new Set(moved)] : moved;
      lists.set(times, list);
    }
    mapped[key] = list;
  }
  return mapped;
}
