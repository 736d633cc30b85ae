import { limbEnds } from "../figure/limbEnds.ts";
import { layoutOf, placeAt } from "../figure/rigLayout.ts";
import { sizeOf } from "../figure/sides.ts";
import type { FrameRange, Shot } from "../model/shot.ts";
import { makePlayer } from "./makePlayer.ts";

/** A thing is carried that is never farther from one hand than this, and never nearer or farther by more than that; shares of the figure's size. */
const NEAR = 0.35;
const STEADY = 0.02;
/** It is looked at so often. */
const LOOKS = 12;

/**
 * Things that stand by themselves in the rig and yet go with a hand over a span: a lantern that was keyed along with it.
 * What hangs on the figure, or is led there, goes with it anyway and is not among them.
 */
export function carriedProps(shot: Shot, { start, end }: FrameRange): string[] {
  const { rig } = shot;
  const hands = limbEnds(rig, "hands");
  const props = rig.controls.filter(({ role, parent, channels }) => role === "prop" && parent === null && channels.includes("moveX"));
  if (hands.length === 0 || props.length === 0) return [];
  const player = makePlayer(shot);
  const places = layoutOf(rig).controlIndex;
  const size = sizeOf(rig);
  const apart = props.map(() => hands.map(() => [] as number[]));
  for (let n = 0; n <= LOOKS; n++) {
    player.pose(start + ((end - start) * n) / LOOKS);
    for (const [p, prop] of props.entries())
      for (const [h, hand] of hands.entries()) {
        const [a, b] = [prop, hand].map(({ id }) => placeAt(places.get(id) as number));
        apart[p][h].push(Math.hypot(...[0, 1, 2].map((k) => player.worlds[a + k] - player.worlds[b + k])));
      }
  }
  return props
    .filter(
      ({ id }, p) =>
        !player.led.has(id) &&
        apart[p].some((far) => Math.max(...far) < NEAR * size && Math.max(...far) - Math.min(...far) < STEADY * size),
    )
    .map(({ id }) => id);
}
