import { type Curve, type Key, keyOn, makeKey, Tangent } from "../curve/curve.ts";
import { curveKeeping } from "../curve/make.ts";
import { unionOfTimes } from "../curve/timeRows.ts";
import { sampleCurve } from "../curve/track.ts";
import { carryOn, hasHeading, type Standing } from "./carryOn.ts";
import { DEG, eulerFromQuat, nearestEuler, quatFromEuler, quatMultiply } from "../maths/rotation.ts";
import { turnVector } from "../maths/vector.ts";
import { type ChannelKey, channelKey, type Control, restValue, rotateChannels } from "../model/rig.ts";

/** A place on the ground and a heading about the vertical (degrees), in the frame of what a control hangs on. */
export interface Stand {
  readonly x: number;
  readonly z: number;
  readonly heading: number;
}

type Values = (channel: string) => number;

/**
 * Where a control stands and looks. Of one that turns about the vertical first the heading is that angle; of any other
 * the way its own front points, as seen from above.
 */
export function standOf(control: Control, values: Values): Stand {
  const place = { x: values("moveX"), z: values("moveZ") };
  if (isPlain(control)) return { ...place, heading: values("rotateY") };
  const turn = turnOf(control, values);
  const front = Float64Array.of(0, 0, 1);
  turnVector(front, 0, turn, 0, front, 0);
  return { ...place, heading: Math.atan2(front[0], front[2]) / DEG };
}

/** A heading may be added to its own angle about the vertical. */
const isPlain = (control: Control) => hasHeading(control) && control.restTurn[3] === 1;

function turnOf(control: Control, values: Values): Float64Array {
  const turn = new Float64Array(4);
  quatFromEuler(turn, 0, values("rotateX") * DEG, values("rotateY") * DEG, values("rotateZ") * DEG, control.order);
  quatMultiply(turn, 0, [...control.restTurn], 0, turn, 0);
  return turn;
}

/**
 * Curves of a control's travel begun elsewhere: what stood at `from` stands at `to`, its height kept. A control that turns
 * about the vertical first keeps its keys and their tangents; of any other the angles are told anew at their keys.
 */
export function carryStand(
  control: Control,
  curves: Readonly<Record<ChannelKey, Curve>>,
  from: Stand,
  to: Stand,
): Record<ChannelKey, Curve> {
  const turned = to.heading - from.heading;
  const named = (stand: Stand): Standing => ({ moveX: stand.x, moveZ: stand.z, rotateY: stand.heading });
  if (isPlain(control)) return { ...carryOn(control, curves, named(from), named(to)) };
  // The places are carried as those of a control that could be turned; angles follow.
  const moves = carryOn({ ...control, order: "YXZ" }, withHeading(control, curves, from.heading), named(from), named(to));
  const heading = channelKey(control.id, "rotateY");
  const places = Object.fromEntries(Object.entries(moves).filter(([key]) => key !== heading));
  return Math.abs(Math.sin((turned * DEG) / 2)) < 1e-15 ? places : { ...places, ...turnedAngles(control, curves, turned) };
}

function withHeading(control: Control, curves: Readonly<Record<ChannelKey, Curve>>, heading: number): Record<ChannelKey, Curve> {
  const key = channelKey(control.id, "rotateY");
  return { ...curves, [key]: curveKeeping([makeKey(0, heading, Tangent.flat)]) };
}

/** How far beside a key its slope is looked at, in frames. */
const BESIDE = 1e-3;

function turnedAngles(control: Control, curves: Readonly<Record<ChannelKey, Curve>>, turned: number): Record<ChannelKey, Curve> {
  const own = rotateChannels.map((channel) => curves[channelKey(control.id, channel)]);
  const times = unionOfTimes(own.flatMap((curve) => (curve ? [curve.times] : [])));
  const about = Float64Array.of(0, Math.sin((turned * DEG) / 2), 0, Math.cos((turned * DEG) / 2));
  const back = control.restTurn.map((x, k) => (k < 3 ? -x : x));
  const euler = new Float64Array(3);
  const at = (time: number, near: readonly number[]) => {
    const turn = turnOf(control, (channel) => {
      const curve = own[rotateChannels.indexOf(channel as "rotateX")];
      return curve ? sampleCurve(curve, time) : restValue(channel);
    });
    quatMultiply(turn, 0, about, 0, turn, 0);
    quatMultiply(turn, 0, back, 0, turn, 0);
    eulerFromQuat(euler, 0, turn, 0, control.order);
    for (let k = 0; k < 3; k++) euler[k] /= DEG;
    return nearestEuler(euler, [...near], control.order);
  };
  const keys: Key[][] = [[], [], []];
  let near: readonly number[] = [0, turned, 0];
  let before = times[0] ?? 0;
  for (const time of times) {
    // Whole turns are followed from frame to frame.
    for (let frame = before + 1; frame < time; frame++) near = at(frame, near);
    before = time;
    near = at(time, near);
    const [earlier, later] = [at(time - BESIDE, near), at(time + BESIDE, near)];
    const model = own.find((curve) => curve && keyOn(curve, time) >= 0) as Curve;
    const i = keyOn(model, time);
    for (let k = 0; k < 3; k++) {
      const [slopeIn, slopeOut] = [(near[k] - earlier[k]) / BESIDE, (later[k] - near[k]) / BESIDE];
      const kept = (kind: number) => (kind === Tangent.linear || kind === Tangent.stepped ? kind : Tangent.free) as Key["kindIn"];
      keys[k].push({ ...makeKey(time, near[k]), slopeIn, slopeOut, kindIn: kept(model.kindIn[i]), kindOut: kept(model.kindOut[i]) });
    }
  }
  return Object.fromEntries(keys.map((list, k) => [channelKey(control.id, rotateChannels[k]), curveKeeping(list)]));
}
