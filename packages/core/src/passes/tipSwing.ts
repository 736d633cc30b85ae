import { readLocal } from "../figure/localMatrix.ts";
import { localValues, scaleOf } from "../figure/localValues.ts";
import type { Player } from "../figure/player.ts";
import { layoutOf, moveAt, scaleAt, worldAt } from "../figure/rigLayout.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { type ChannelKey, channelKey, type Control, rotateChannels } from "../model/rig.ts";
import type { Link, Swing } from "./swing.ts";
import { advanceSpring, type SpringState } from "./spring.ts";

/** At most so many rounds are gone through until a loop swings the same each time. */
const ROUNDS = 60;
/** It does, once each tip comes back to within this share of its link's length. */
const SETTLED = 1e-8;

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
  /** Its own scale at the frame the player is at. */
  readonly scale: ArrayLike<number>;
  /** Its move and rotate values of the frame before. */
  near: number[];
  /** Which way it pointed in its own frame at the frame before; none at the start. */
  readonly held: Float64Array;
  isHeld: boolean;
}

/**
 * The tip of each control trails behind where the motion below has it, on a spring in space; the control is
 * turned so that it points at its tip. Parents come first, so the swing runs down the chain. Angles (degrees)
 * at the whole frames from the start.
 */
export function tipSwing(swing: Swing, controls: readonly string[]): Map<ChannelKey, Float64Array> {
  const chain = new SwungChain(swing, controls);
  const { start, warmUp, count } = swing;
  chain.begin(start - warmUp, -warmUp);
  for (let n = 1 - warmUp; n < count; n++) chain.pass(start + n, n);
  if (swing.loop) chain.goRound();
  return chain.columns();
}

/** The figure with each link turned toward where the spring has its tip. */
class SwungChain {
  private readonly swing: Swing;
  private readonly player: Player;
  private readonly tips = new Map<number, Tip>();
  private readonly parents: Int32Array;
  private readonly worlds: Float64Array;
  /** Where the swung figure differs, as far as it matters: the links, and what stands between links. */
  private readonly chain: readonly number[];

  constructor(swing: Swing, controls: readonly string[]) {
    this.swing = swing;
    this.player = swing.below.player("figure", controls);
    const { rig } = swing.below.shot;
    rig.controls.forEach((control, index) => {
      if (controls.includes(control.id)) this.tips.set(index, this.tipFor(rig.controls, control, index));
    });
    this.worlds = new Float64Array(this.player.worlds.length);
    this.parents = layoutOf(rig).parents;
    const links = [...this.tips.keys()];
    const isAbove = (i: number, j: number) => {
      for (let at = j; at >= 0; at = this.parents[at]) if (at === i) return true;
      return false;
    };
    this.chain = rig.controls
      .map((_, i) => i)
      .filter((i) => links.some((link) => isAbove(link, i)) && links.some((link) => isAbove(i, link)));
  }

  private tipFor(all: readonly Control[], control: Control, index: number): Tip {
    return {
      control,
      index,
      link: this.swing.linkOf(control.id),
      end: endOf(all, control),
      goal: new Float64Array(3),
      last: new Float64Array(3),
      state: { at: new Float64Array(3), speed: new Float64Array(3) },
      columns: rotateChannels.map(() => new Float64Array(this.swing.count)),
      scale: scaleOf(this.player, control.id),
      near: [],
      held: new Float64Array(3),
      isHeld: false,
    };
  }

  /** Angles by channel at the whole frames. */
  columns(): Map<ChannelKey, Float64Array> {
    return new Map(
      [...this.tips.values()].flatMap(({ control, columns }) =>
        rotateChannels.map((channel, axis) => [channelKey(control.id, channel), columns[axis]] as const),
      ),
    );
  }

  /** Carry the figure of a frame over into `worlds`, each link turned toward its tip; what a tip does there is `each`'s. */
  private carryOver(frame: number, each: (tip: Tip, i: number) => void): void {
    const { player, worlds, parents, tips } = this;
    player.pose(frame);
    worlds.set(player.worlds);
    for (const i of this.chain) {
      if (parents[i] >= 0) carry(player.worlds, worlds, i, parents[i]);
      const tip = tips.get(i);
      if (!tip) continue;
      place(worlds, i, tip.end, tip.goal);
      each(tip, i);
      tip.last.set(tip.goal);
    }
  }

  /** At the first frame every tip is where the motion below has it, and at rest. */
  begin(frame: number, write: number): void {
    const { player } = this;
    player.readValues(frame);
    for (const [i, tip] of this.tips) tip.near = [...player.values.subarray(moveAt(i), scaleAt(i))];
    this.carryOver(frame, (tip, i) => {
      tip.state.at.set(tip.goal);
      tip.state.speed.fill(0);
      this.turn(i, tip, write);
    });
  }

  /** One frame on; the angles are kept as those of the frame number `write`. */
  pass(frame: number, write: number): void {
    this.carryOver(frame, (tip, i) => {
      const spring = { frequency: tip.link.frequency(frame), damping: tip.link.damping(frame) };
      advanceSpring(tip.state, spring, tip.last, tip.goal, this.swing.step);
      this.turn(i, tip, write);
    });
  }

  /** Round after round, until the end is the start again; the way the figure has gone is no part of the swing. */
  goRound(): void {
    const { start, count } = this.swing;
    const all = [...this.tips.values()];
    const lags = () => new Map(all.map((tip) => [tip, tip.state.at.map((v, k) => v - tip.goal[k])]));
    const first = new Map(all.map((tip) => [tip, tip.columns.map((column) => column[0])]));
    let lag = lags();
    for (let round = 0; round < ROUNDS; round++) {
      // The first frame again with the springs as they left the last one: no time passes.
      this.carryOver(start, (tip, i) => {
        const off = lag.get(tip) as Float64Array;
        for (let k = 0; k < 3; k++) tip.state.at[k] = tip.goal[k] + off[k];
        tip.near = [0, 0, 0, ...(first.get(tip) as number[])];
        this.turn(i, tip, 0);
      });
      for (let n = 1; n < count; n++) this.pass(start + n, n);
      const before = lag;
      lag = lags();
      const moved = all.map((tip) => {
        const [was, is] = [before.get(tip) as Float64Array, lag.get(tip) as Float64Array];
        return Math.hypot(...is.map((v, k) => v - was[k])) / Math.hypot(...tip.end);
      });
      if (Math.max(...moved) < SETTLED) break;
    }
  }

  /** Turn a link toward its tip and keep its angles as those of the frame number `write`. */
  private turn(i: number, tip: Tip, write: number): void {
    const { worlds, player } = this;
    turnToward(worlds, i, tip, this.swing);
    tip.near = localValues({ worlds, controlIndex: player.controlIndex }, tip.control, tip.near, tip.scale);
    if (write >= 0) for (let axis = 0; axis < 3; axis++) tip.columns[axis][write] = tip.near[3 + axis];
  }
}

/** The end of a control's bone: where its first child sits, its own tip, or as far again as it is from its parent. */
function endOf(controls: readonly Control[], control: Control): readonly [number, number, number] {
  const child = controls.find(({ parent }) => parent === control.id);
  const end = child?.rest ?? control.tip ?? control.rest;
  return Math.hypot(...end) > 1e-9 ? end : [0, -1, 0];
}

const local = new Float64Array(16);

/** The world matrix of a control under its parent as that has been turned so far. */
function carry(from: Float64Array, to: Float64Array, i: number, parent: number): void {
  readLocal(local, 0, from, i, parent);
  multiplyAffine(to, worldAt(i), to, worldAt(parent), local, 0);
}

function place(m: Float64Array, i: number, [x, y, z]: readonly [number, number, number], out: Float64Array): void {
  const o = worldAt(i);
  for (let k = 0; k < 3; k++) out[k] = m[o + k] * x + m[o + 4 + k] * y + m[o + 8 + k] * z + m[o + 12 + k];
}

const was = new Float64Array(3);
const is = new Float64Array(3);
const rest = new Float64Array(3);
const wanted = new Float64Array(3);

/** A link turns no quicker than this about where the motion has it, in degrees a second: a body that jumps does not make its tail jump. */
const QUICKEST = 720;

/** Turn a control the shortest way, so that its end points at where the spring has its tip, as far and as quickly as a chain can. */
function turnToward(m: Float64Array, i: number, tip: Tip, swing: Swing): void {
  const { goal, state } = tip;
  const { strength } = swing;
  const o = worldAt(i);
  for (let k = 0; k < 3; k++) was[k] = goal[k] - m[o + 12 + k];
  const length = Math.hypot(was[0], was[1], was[2]);
  for (let k = 0; k < 3; k++) is[k] = was[k] + strength * (state.at[k] - goal[k]);
  if (!makeUnit(was) || !makeUnit(is)) return;
  if (isBounded(m, o, tip, swing)) {
    // The spring is stopped there as well, so that it does not go on pulling from where no tip can be.
    for (let k = 0; k < 3; k++) {
      state.at[k] = goal[k] + (length * (is[k] - was[k])) / strength;
      state.speed[k] = (goal[k] - tip.last[k]) / swing.step;
    }
  }
  const c = was[0] * is[0] + was[1] * is[1] + was[2] * is[2];
  // Straight back there is no shortest way; the link stays as it is for that frame.
  if (c < -0.9999) return;
  const x = was[1] * is[2] - was[2] * is[1];
  const y = was[2] * is[0] - was[0] * is[2];
  const z = was[0] * is[1] - was[1] * is[0];
  const s = 1 / (1 + c);
  // Rodrigues: R = I + [v] + [v]² / (1 + c), on each column.
  for (let column = o; column < o + 12; column += 4) {
    const p = m[column];
    const q = m[column + 1];
    const r = m[column + 2];
    m[column] = (c + s * x * x) * p + (s * x * y - z) * q + (y + s * x * z) * r;
    m[column + 1] = (z + s * x * y) * p + (c + s * y * y) * q + (s * y * z - x) * r;
    m[column + 2] = (s * x * z - y) * p + (x + s * y * z) * q + (c + s * z * z) * r;
  }
}

/** Keep the way a link is to point (`is`) within what a chain can do, seen from its own frame; answers whether it had to be. */
function isBounded(m: Float64Array, o: number, tip: Tip, { most, step }: Swing): boolean {
  inward(m, o, was, rest);
  inward(m, o, is, wanted);
  const far = nearer(wanted, rest, (most * Math.PI) / 180);
  const quick = tip.isHeld && nearer(wanted, tip.held, (QUICKEST * step * Math.PI) / 180);
  tip.held.set(wanted);
  tip.isHeld = true;
  if (far || quick) outward(m, o, wanted, is);
  return far || quick;
}

/** A direction in the world as one in a control's own frame; its scale does not matter. */
function inward(m: Float64Array, o: number, from: Float64Array, to: Float64Array): void {
  for (let axis = 0; axis < 3; axis++) {
    const at = o + 4 * axis;
    const size = Math.hypot(m[at], m[at + 1], m[at + 2]) || 1;
    to[axis] = (m[at] * from[0] + m[at + 1] * from[1] + m[at + 2] * from[2]) / size;
  }
  makeUnit(to);
}

function outward(m: Float64Array, o: number, from: Float64Array, to: Float64Array): void {
  to.fill(0);
  for (let axis = 0; axis < 3; axis++) {
    const at = o + 4 * axis;
    const size = Math.hypot(m[at], m[at + 1], m[at + 2]) || 1;
    for (let k = 0; k < 3; k++) to[k] += (m[at + k] / size) * from[axis];
  }
  makeUnit(to);
}

/** Bring a direction to within an angle of another, along the great circle between them; answers whether it was further. */
function nearer(direction: Float64Array, about: Float64Array, within: number): boolean {
  const c = Math.min(1, Math.max(-1, direction[0] * about[0] + direction[1] * about[1] + direction[2] * about[2]));
  const angle = Math.acos(c);
  if (angle <= within + 1e-9) return false;
  const s = Math.sin(angle);
  // Straight back every way is as short; the old one is as good as any.
  if (s < 1e-6) direction.set(about);
  else {
    const [a, b] = [Math.sin(angle - within) / s, Math.sin(within) / s];
    for (let k = 0; k < 3; k++) direction[k] = a * about[k] + b * direction[k];
  }
  return true;
}

/** Divide by the length; false where there is none. */
function makeUnit(v: Float64Array): boolean {
  const length = Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]);
  if (length <= 1e-12) return false;
  for (let k = 0; k < 3; k++) v[k] /= length;
  return true;
}
