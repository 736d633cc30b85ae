import { localValues } from "../figure/localValues.ts";
import { invertAffine, multiplyAffine } from "../figure/matrix.ts";
import { type ChannelKey, channelKey, type Control, rotateChannels } from "../model/rig.ts";
import type { Link, Swing } from "./swing.ts";
import { advanceSpring, type SpringState } from "./spring.ts";

/** At most so many rounds are gone through until a loop swings the same each time. */
const ROUNDS = 60;

/** A link on its way: where its tip should be and where the spring has it. */
interface Tip {
  readonly control: Control;
  readonly index: number;
  readonly link: Link;
  /** Its end in its own frame. */
  readonly end: readonly [number, number, number];
  readonly goal: Float64Array;
  readonly last: Float64Array;
  readonly state: SpringState;
  readonly columns: readonly Float64Array[];
  near: number[];
}

/**
 * The tip of each control trails behind where the motion below has it, on a spring in space; the control is
 * turned so that it points at its tip. Parents come first, so the swing runs down the chain. Angles (degrees)
 * at the whole frames from the start.
 */
export function tipSwing(swing: Swing, controls: readonly string[]): Map<ChannelKey, Float64Array> {
  const { below, start, count, warmUp, loop } = swing;
  const player = below.player("figure");
  const { rig } = below.shot;
  const tips = new Map<number, Tip>();
  rig.controls.forEach((control, index) => {
    if (!controls.includes(control.id)) return;
    tips.set(index, {
      control,
      index,
      link: swing.linkOf(control.id),
      end: endOf(rig.controls, control),
      goal: new Float64Array(3),
      last: new Float64Array(3),
      state: { at: new Float64Array(3), speed: new Float64Array(3) },
      columns: rotateChannels.map(() => new Float64Array(count)),
      near: [],
    });
  });
  const worlds = new Float64Array(player.worlds.length);
  const swung = { worlds, controlIndex: player.controlIndex };
  const parents = rig.controls.map(({ parent }) => (parent === null ? -1 : (player.controlIndex.get(parent) as number)));

  /** Carry the figure of a frame over into `worlds`, each link turned toward its tip. */
  const pass = (frame: number, first: boolean, write: number): void => {
    player.readValues(frame);
    const values = player.values.slice();
    player.pose(frame);
    for (let i = 0; i < parents.length; i++) {
      carry(player.worlds, worlds, i, parents[i]);
      const tip = tips.get(i);
      if (!tip) continue;
      place(worlds, i, tip.end, tip.goal);
      if (first) {
        tip.state.at.set(tip.goal);
        tip.state.speed.fill(0);
        tip.near = rotateChannels.map((_, axis) => values[i * 9 + 3 + axis]);
      } else
        advanceSpring(
          tip.state,
          { frequency: tip.link.frequency(frame), damping: tip.link.damping(frame) },
          tip.last,
          tip.goal,
          swing.step,
        );
      tip.last.set(tip.goal);
      turn(i, tip, write);
    }
  };

  for (let n = -warmUp; n < count; n++) pass(start + n, n === -warmUp, n);
  if (loop) goRound();
  return new Map(
    [...tips.values()].flatMap(({ control, columns }) =>
      rotateChannels.map((channel, axis) => [channelKey(control.id, channel), columns[axis]] as const),
    ),
  );

  /** Round after round, until the end is the start again; the way the figure has gone is no part of the swing. */
  function goRound(): void {
    const all = [...tips.values()];
    for (let round = 0; round < ROUNDS; round++) {
      const before = all.map(({ columns }) => columns.map((column) => column[0]));
      const left = new Map(all.map((tip) => [tip, tip.state.at.map((v, k) => v - tip.goal[k])]));
      // The first frame again with the springs as they left the last one: no time passes.
      player.pose(start);
      for (let i = 0; i < parents.length; i++) {
        carry(player.worlds, worlds, i, parents[i]);
        const tip = tips.get(i);
        if (!tip) continue;
        place(worlds, i, tip.end, tip.goal);
        tip.last.set(tip.goal);
        const off = left.get(tip) as Float64Array;
        for (let k = 0; k < 3; k++) tip.state.at[k] = tip.goal[k] + off[k];
        turn(i, tip, 0);
      }
      for (let n = 1; n < count; n++) pass(start + n, false, n);
      const moved = all.flatMap(({ columns }, t) => columns.map((column, axis) => Math.abs(column[0] - before[t][axis])));
      if (Math.max(...moved) < 1e-6) break;
    }
  }

  /** Turn a link toward its tip and keep its angles as those of the frame number `write`. */
  function turn(i: number, tip: Tip, write: number): void {
    turnToward(worlds, i, tip, swing.strength);
    const [, , , ...angles] = localValues(swung, tip.control, [0, 0, 0, ...tip.near]);
    tip.near = angles;
    if (write >= 0) for (let axis = 0; axis < 3; axis++) tip.columns[axis][write] = angles[axis];
  }
}

/** The end of a control's bone: where its first child sits, its own tip, or as far again as it is from its parent. */
function endOf(controls: readonly Control[], control: Control): readonly [number, number, number] {
  const child = controls.find(({ parent }) => parent === control.id);
  const end = child?.rest ?? control.tip ?? control.rest;
  return Math.hypot(...end) > 1e-9 ? end : [0, -1, 0];
}

const local = new Float64Array(16);
const inverse = new Float64Array(16);

/** The world matrix of a control under its parent as it has been turned so far. */
function carry(from: Float64Array, to: Float64Array, i: number, parent: number): void {
  if (parent < 0) {
    to.set(from.subarray(i * 16, i * 16 + 16), i * 16);
    return;
  }
  invertAffine(inverse, 0, from, parent * 16);
  multiplyAffine(local, 0, inverse, 0, from, i * 16);
  multiplyAffine(to, i * 16, to, parent * 16, local, 0);
}

function place(m: Float64Array, i: number, [x, y, z]: readonly [number, number, number], out: Float64Array): void {
  const o = i * 16;
  for (let k = 0; k < 3; k++) out[k] = m[o + k] * x + m[o + 4 + k] * y + m[o + 8 + k] * z + m[o + 12 + k];
}

const arc = new Float64Array(9);

/** Turn a control the shortest way, so that its end points at where the spring has its tip. */
function turnToward(m: Float64Array, i: number, { goal, state }: Tip, strength: number): void {
  const o = i * 16;
  const a = unit([0, 1, 2].map((k) => goal[k] - m[o + 12 + k]));
  const b = unit([0, 1, 2].map((k) => goal[k] + strength * (state.at[k] - goal[k]) - m[o + 12 + k]));
  if (a === null || b === null) return;
  const c = a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  // Straight back there is no shortest way; the link stays as it is for that frame.
  if (c < -0.9999) return;
  const [x, y, z] = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const s = 1 / (1 + c);
  // Rodrigues: R = I + [v] + [v]² / (1 + c), by columns.
  arc.set([
    c + s * x * x,
    z + s * x * y,
    -y + s * x * z,
    -z + s * x * y,
    c + s * y * y,
    x + s * y * z,
    y + s * x * z,
    -x + s * y * z,
    c + s * z * z,
  ]);
  for (let column = 0; column < 3; column++) {
    const [p, q, r] = [m[o + 4 * column], m[o + 4 * column + 1], m[o + 4 * column + 2]];
    for (let k = 0; k < 3; k++) m[o + 4 * column + k] = arc[k] * p + arc[3 + k] * q + arc[6 + k] * r;
  }
}

function unit(v: readonly number[]): readonly number[] | null {
  const length = Math.hypot(...v);
  return length > 1e-12 ? v.map((k) => k / length) : null;
}
