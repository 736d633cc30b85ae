import { matchClip } from "../../actions/matchClip.ts";
import { listed } from "../../words.ts";
import { KneaderError } from "../../errors.ts";
import type { Clip } from "../../model/clip.ts";
import { type ChannelKey, channelKey, channelTitle, controlById, splitChannelKey } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import type { Scope } from "../operation.ts";
import { sayScenery, sceneryAmong } from "../shared/sceneryLeft.ts";
import { channelsMeant, wantedChannels } from "../shared/scope.ts";

/** Which copied channel goes onto which; names of those without a place. */
export function clipPairs(
  shot: Shot,
  scope: Scope,
  clip: Clip,
  s: { readonly to: "same" | "picked"; readonly order: readonly string[] },
): { pairs: Map<ChannelKey, ChannelKey>; missing: string[]; scenery: string[] } {
  const meant = new Set(channelsMeant(shot, scope));
  const pairs = s.to === "picked" ? inOrder(shot, scope, clip, s.order) : new Map(matchClip(clip, shot.rig).matched);
  const scenery = sayScenery(shot, scope, [...pairs.values()]);
  const left = new Set(sceneryAmong(shot, scope, [...pairs.values()]));
  const besides = new Set([...pairs].filter(([, to]) => left.has(to)).map(([from]) => from));
  for (const [from, to] of pairs) if (!meant.has(to)) pairs.delete(from);
  const missing = [
    ...new Set(
      Object.keys(clip.curves)
        .filter((key) => !pairs.has(key) && !besides.has(key))
        .map((key) => nameIn(clip, key)),
    ),
  ];
  if (pairs.size === 0)
    throw new KneaderError(
      "no-match",
      `Paste keys: none of the copied channels has a place here (${listed(missing)}).`,
      s.to === "picked" ? "Pick the controls or channels that should take them." : "Widen the scope, or paste onto what is picked.",
    );
  const free = new Set(wantedChannels(shot, scope));
  const locked = [...pairs.values()].filter((key) => !free.has(key));
  if (locked.length === pairs.size)
    throw new KneaderError(
      "locked",
      `Paste keys: ${channelTitle(shot.rig, locked[0])}${locked.length > 1 ? ` and ${locked.length - 1} more are` : " is"} locked.`,
      "Unlock what should take the keys.",
    );
  for (const [from, to] of pairs) if (!free.has(to)) pairs.delete(from);
  return { pairs, missing, scenery };
}

/** Copied channels, in the order asked for, onto picked channels one by one; or control by control, channel names alike. */
function inOrder(shot: Shot, scope: Scope, clip: Clip, order: readonly string[]): Map<ChannelKey, ChannelKey> {
  if (scope.channels === null && scope.controls === null)
    throw new KneaderError("nothing-in-scope", "Paste keys: nothing is picked to paste onto.", "Pick controls or channels, in order.");
  const sources = [...order.filter((key) => key in clip.curves), ...Object.keys(clip.curves).filter((key) => !order.includes(key))];
  const pairs = new Map<ChannelKey, ChannelKey>();
  if (scope.channels !== null) {
    scope.channels.forEach((to, i) => {
      if (i < sources.length) pairs.set(sources[i], to);
    });
    return pairs;
  }
  const groups = [...new Set(sources.map((key) => splitChannelKey(key).control))];
  (scope.controls ?? []).forEach((id, i) => {
    for (const from of sources) {
      const { control, channel } = splitChannelKey(from);
      if (control === groups[i] && controlById(shot.rig, id)?.channels.includes(channel)) pairs.set(from, channelKey(id, channel));
    }
  });
  return pairs;
}

function nameIn(clip: Clip, key: ChannelKey): string {
  const { control } = splitChannelKey(key);
  return clip.controls.find(({ id }) => id === control)?.name ?? control;
}
