import { besides, slopedKey } from "../curve/besides.ts";
import { type Curve, type Key, keyOn, makeKey, Tangent } from "../curve/curve.ts";
import { curveKeeping } from "../curve/make.ts";
import { unionOfTimes } from "../curve/timeRows.ts";
import { sampleCurve } from "../curve/track.ts";
import { carryOn, hasHeading, type Standing } from "./carryOn.ts";
import { DEG, eulerFromQuat, nearestEuler, quatAngle, quatFromEuler, quatMultiply } from "../maths/rotation.ts";
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
 * about the vertical first keeps its keys and their tangents; of any other the angles are told anew at their keys and at
 * the times of `keyed`, and on every frame where the motion between them would differ.
 */
export function carryStand(
  control: Control,
  curves: Readonly<Record<ChannelKey, Curve>>,
  from: Stand,
  to: Stand,
  keyed: readonly number[] = [],
): Record<ChannelKey, Curve> {
  const turned = to.heading - from.heading;
  const named = (stand: Stand): Standing => ({ moveX: stand.x, moveZ: stand.z, rotateY: stand.heading });
  if (isPlain(control)) return { ...carryOn(control, curves, named(from), named(to)) };
  // The places are carried as those of a control that could be turned; angles follow.
  const moves = carryOn({ ...control, order: "YXZ" }, withHeading(control, curves, from.heading), named(from), named(to));
  const heading = channelKey(control.id, "rotateY");
  const places = Object.fromEntries(Object.entries(moves).filter(([key]) => key !== heading));
  return Math.abs(Math.sin((turned * DEG) / 2)) < 1e-15 ? places : { ...places, ...turnedAngles(control, curves, turned, keyed) };
}

function withHeading(control: Control, curves: Readonly<Record<ChannelKey, Curve>>, heading: number): Record<ChannelKey, Curve> {
  const key = channelKey(control.id, "rotateY");
  return { ...curves, [key]: curveKeeping([makeKey(0, heading, Tangent.flat)]) };
}

/** Between keys the turn may differ by so much (degrees), else it is keyed on every frame. */
const NEAR = 0.5;

/** Three angles turned about the vertical, told anew at their keys and at `keyed`. */
function turnedAngles(
  control: Control,
  curves: Readonly<Record<ChannelKey, Curve>>,
  turned: number,
  keyed: readonly number[],
): Record<ChannelKey, Curve> {
  const own = rotateChannels.map((channel) => curves[channelKey(control.id, channel)]);
  const rows = own.flatMap((curve) => (curve ? [curve.times] : []));
  const times = unionOfTimes([...rows, Float64Array.from(keyed)]);
  const read = turnedReader(control, own, turned);
  const made = anglesAt(own, times, read);
  const [first, last] = [times[0], times[times.length - 1]];
  const frames = Float64Array.from({ length: Math.max(0, Math.floor(last) - Math.ceil(first) + 1) }, (_, n) => Math.ceil(first) + n);
  const isNear = frames.every((frame) => {
    const truth = quatOf(read(frame, NO_ANGLES), control.order);
    return (
      quatAngle(
        quatOf(
          made.map((curve) => sampleCurve(curve, frame)),
          control.order,
        ),
        0,
        truth,
        0,
      ) < NEAR
    );
  });
  const whole = isNear ? made : anglesAt(own, unionOfTimes([times, frames]), read);
  return Object.fromEntries(whole.map((curve, k) => [channelKey(control.id, rotateChannels[k]), curve]));
}

const NO_ANGLES = [0, 0, 0] as const;

function quatOf([x, y, z]: readonly number[], order: Control["order"]): Float64Array {
  const turn = new Float64Array(4);
  quatFromEuler(turn, 0, x * DEG, y * DEG, z * DEG, order);
  return turn;
}

type ReadAngles = (time: number, near: readonly number[]) => readonly number[];

function turnedReader(control: Control, own: readonly (Curve | undefined)[], turned: number): ReadAngles {
  const about = Float64Array.of(0, Math.sin((turned * DEG) / 2), 0, Math.cos((turned * DEG) / 2));
  const back = control.restTurn.map((x, k) => (k < 3 ? -x : x));
  const euler = new Float64Array(3);
  return (time, near) => {
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
}

function anglesAt(own: readonly (Curve | undefined)[], times: Float64Array, read: ReadAngles): Curve[] {
  const keys: Key[][] = [[], [], []];
  let near: readonly number[] = own.map((curve) => curve?.values[0] ?? 0);
  let before = times[0];
  for (const time of times) {
    // Whole turns are followed from frame to frame.
    for (let frame = before + 1; frame < time; frame++) near = read(frame, near);
    before = time;
    near = read(time, near);
    const beside = besides(time).map((one) => read(one, near));
    const model = own.find((curve) => curve && keyOn(curve, time) >= 0);
    const i = model ? keyOn(model, time) : -1;
    const kept = (kind: number | undefined) => (kind === Tangent.linear || kind === Tangent.stepped ? kind : Tangent.free) as Key["kindIn"];
    for (let k = 0; k < 3; k++) {
      const key = slopedKey(
        time,
        near[k],
        beside.map((angles) => angles[k]),
      );
      keys[k].push({ ...key, kindIn: kept(model?.kindIn[i]), kindOut: kept(model?.kindOut[i]) });
    }
  }
  return keys.map((list) => curveKeeping(list));
}
