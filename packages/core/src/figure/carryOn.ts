import { type Curve, type Key, keysOf, Tangent, THIRD } from "../curve/curve.ts";
import { insertKeysOn } from "../curve/edit.ts";
import { curveFromKeys } from "../curve/make.ts";
import { sampleCurve } from "../curve/track.ts";
import { DEG } from "../maths/rotation.ts";
import { type ChannelKey, channelKey, type Control, isScenery, moveChannels, type Rig } from "../model/rig.ts";

/** Where something stands and which way it looks: the values of its move channels and its turn about the vertical. */
export type Standing = Readonly<Partial<Record<"moveX" | "moveY" | "moveZ" | "rotateY", number>>>;

export type TravelCurves = Readonly<Record<ChannelKey, Curve>>;

/** The controls whose motion is in the world: those at the top of the figure, its set left out. */
export function travellers(rig: Rig): Control[] {
  return rig.controls.filter((control) => control.parent === null && !isScenery(control));
}

const channels = [...moveChannels, "rotateY"] as const;

/** Is the turn about the vertical the outermost one, so that a heading can be added to it? */
export const hasHeading = (control: Control): boolean => control.order.startsWith("Y");

/** Where a control stands at a frame, as far as the curves say. */
export function standingAt(control: Control, curves: TravelCurves, frame: number): Standing {
  return Object.fromEntries(
    channels.flatMap((channel) => {
      const curve = curves[channelKey(control.id, channel)];
      return curve ? [[channel, sampleCurve(curve, frame)]] : [];
    }),
  );
}

/**
 * The curves of a control's travel, begun at `from`, so that they begin at `to` instead: position and heading
 * go on from there, and a way walked in one direction is turned into the other. Whole turns count for
 * nothing. Channels of which one of the two knows nothing stay.
 */
export function carryOn(control: Control, curves: TravelCurves, from: Standing, to: Standing): TravelCurves {
  const carried: Record<ChannelKey, Curve> = {};
  const apart = (channel: (typeof channels)[number]) => (to[channel] ?? 0) - (from[channel] ?? 0);
  const known = (channel: (typeof channels)[number]) => from[channel] !== undefined && to[channel] !== undefined;
  const turned = hasHeading(control) && known("rotateY") ? apart("rotateY") : 0;
  const [x, z] = [channelKey(control.id, "moveX"), channelKey(control.id, "moveZ")];
  const turns = Math.abs(Math.sin(turned * DEG)) > 1e-12 || Math.cos(turned * DEG) < 0;
  const turnsWay = turns && x in curves && z in curves && known("moveX") && known("moveZ");
  for (const channel of channels) {
    const key = channelKey(control.id, channel);
    const curve = curves[key];
    if (!curve || !known(channel)) continue;
    if (channel === "rotateY") {
      if (hasHeading(control)) carried[key] = shifted(curve, apart(channel));
    } else if (channel === "moveY" || !turnsWay) carried[key] = shifted(curve, apart(channel));
  }
  if (turnsWay) {
    const sin = Math.sin(turned * DEG);
    const cos = Math.cos(turned * DEG);
    const [a, b] = keyedTogether(curves[x], curves[z]);
    const [x0, z0] = [from.moveX as number, from.moveZ as number];
    carried[x] = combined(a, b, cos, sin, (to.moveX as number) - cos * x0 - sin * z0);
    carried[z] = combined(a, b, -sin, cos, (to.moveZ as number) + sin * x0 - cos * z0);
  }
  return carried;
}

function shifted(curve: Curve, by: number): Curve {
  return by === 0 ? curve : { ...curve, values: curve.values.map((value) => value + by) };
}

/** Both curves with keys at the frames of either, unchanged. */
function keyedTogether(a: Curve, b: Curve): [Curve, Curve] {
  return [insertKeysOn(a, b.times), insertKeysOn(b, a.times)];
}

/** p·a + q·b + offset, key by key; exact where handles are plain. */
function combined(a: Curve, b: Curve, p: number, q: number, offset: number): Curve {
  const others = keysOf(b);
  const kind = (one: number, other: number) =>
    (one === other && (one === Tangent.linear || one === Tangent.stepped) ? one : Tangent.free) as Key["kindIn"];
  const weight = (one: number, other: number) => (one === other ? one : THIRD);
  return curveFromKeys(
    keysOf(a).map((key, i): Key => {
      const other = others[i];
      return {
        time: key.time,
        value: p * key.value + q * other.value + offset,
        slopeIn: p * key.slopeIn + q * other.slopeIn,
        slopeOut: p * key.slopeOut + q * other.slopeOut,
        weightIn: weight(key.weightIn, other.weightIn),
        weightOut: weight(key.weightOut, other.weightOut),
        kindIn: kind(key.kindIn, other.kindIn),
        kindOut: kind(key.kindOut, other.kindOut),
      };
    }),
    a,
  );
}
