import { KneaderError } from "../errors.ts";
import { type ChannelKey, type Control, channelKey, controlById, moveChannels, type Rig, rotateChannels } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { invertAffine, multiplyAffine } from "../maths/matrix.ts";
import { writeLocal } from "./localMatrix.ts";
import type { Player } from "./player.ts";
import { controlAt, layoutOf, moveAxisOf, worldAt } from "./rigLayout.ts";
import { approach } from "../maths/leastSquares.ts";

export type Place = readonly [number, number, number];

/** A spot of the figure that is taken hold of. */
export interface Grip {
  readonly control: string;
  /** Where on it, in the control's own space. */
  readonly spot: Place;
}

/** What gives way: the part itself turns about its joint, or what it hangs on reaches (a part that moves by itself moves). */
export type PullBy = "turn" | "reach";

/** Links above the gripped one that reach along with it. */
const LINKS = 3;
const ROUNDS = 60;
/** Share of the chain's length at which the spot counts as there, and below which a round has brought nothing. */
const NEAR = 1e-8;
/** Largest change of an angle in a round, degrees: beyond it the straight line of the search means nothing. */
const STEP = 25;

/** The channels that give way when a control is pulled. Raises `locked` when all of them are. */
function pullChannels(shot: Shot, control: string, by: PullBy, led: ReadonlySet<string> = NOBODY): ChannelKey[] {
  const pulled = controlById(shot.rig, control);
  if (!pulled) throw new KneaderError("not-found", `The rig has no control "${control}".`);
  const own = (of: Control, names: readonly string[]) =>
    of.channels.filter((name) => names.includes(name)).map((c) => channelKey(of.id, c));
  const moves = movesByItself(shot, pulled) ? own(pulled, moveChannels) : [];
  const reaching =
    by === "turn" ? [] : moves.length > 0 ? moves : linksAbove(shot.rig, pulled, led).flatMap((link) => own(link, rotateChannels));
  const all = reaching.length > 0 ? reaching : own(pulled, rotateChannels);
  const locked = new Set(shot.locked);
  const free = all.filter((key) => !locked.has(key));
  if (free.length === 0)
    throw new KneaderError(
      "locked",
      `${pulled.name} gives no way: ${all.length > 0 ? "its channels are locked" : "it has nothing that turns"}.`,
    );
  return free;
}

/** Where so many of the controls have move channels, having them says nothing: files give them to every joint. */
const ALL_MOVE = 0.6;

/** Is a control moved, and not only carried along? One at the top is, and one whose moves have keys; in a rig of few that can, all of those. */
export function movesByItself(shot: Pick<Shot, "rig" | "base" | "passes">, { id, parent, channels }: Control): boolean {
  const moves = channels
    .filter((channel) => (moveChannels as readonly string[]).includes(channel))
    .map((channel) => channelKey(id, channel));
  if (moves.length === 0) return false;
  if (parent === null || [shot.base, ...shot.passes.map(({ curves }) => curves)].some((curves) => moves.some((key) => key in curves)))
    return true;
  const able = shot.rig.controls.filter((control) => control.channels.includes("moveX") || control.channels.includes("moveY"));
  return able.length < ALL_MOVE * shot.rig.controls.length;
}

const NOBODY: ReadonlySet<string> = new Set();

/** The links of the same body part that a control hangs on, the uppermost first; none above one that something leads. */
function linksAbove(rig: Rig, control: Control, led: ReadonlySet<string>): Control[] {
  const links: Control[] = [];
  for (let id = led.has(control.id) ? null : control.parent; id !== null && links.length < LINKS; ) {
    const above = controlById(rig, id);
    if (!above || above.part !== control.part) break;
    links.unshift(above);
    id = led.has(id) ? null : above.parent;
  }
  return links;
}

/**
 * The values of `pullChannels`, as they come out of all passes, with which the gripped spot is at `goal` (in
 * the world), or as near to it as they let it, changed as little as may be: damped least squares (Levenberg
 * 1944, Marquardt 1963) from the pose at `frame`, which the player is put to. Raises `locked` where something else leads the chain there.
 */
export function pullTo(player: Player, frame: number, grip: Grip, by: PullBy, goal: Place): Record<ChannelKey, number> {
  player.pose(frame);
  player.readValues(frame);
  return pullFrom(player.shot, standOf(player, frame), grip, by, goal, frame);
}

/** How a figure stands: its channel values, and its matrices in the world, laid out as `layoutOf` says. */
export interface Stand {
  readonly values: Float64Array;
  readonly worlds: Float64Array;
  /** As a player has them; left out where nothing leads. */
  readonly led?: ReadonlySet<string>;
  readonly ruled?: ReadonlySet<string>;
}

/** How a player stands, posed at a frame; its arrays themselves. */
export const standOf = ({ values, worlds, led, ruledAt }: Player, frame: number): Stand => ({ values, worlds, led, ruled: ruledAt(frame) });

/** The matrix in which a control's own channels are told as it stands: of what it hangs on, or where something leads it to. */
export function frameOf(out: Float64Array, { rig }: Pick<Shot, "rig">, { values, worlds, led }: Stand, i: number): void {
  const parent = layoutOf(rig).parents[i];
  if (led?.has(rig.controls[i].id)) {
    writeLocal(out, rig.controls[i], values, i);
    invertAffine(out, 0, out, 0);
    multiplyAffine(out, 0, worlds, worldAt(i), out, 0);
  } else if (parent < 0) out.set(IDENTITY);
  else for (let k = 0; k < 16; k++) out[k] = worlds[worldAt(parent) + k];
}

const IDENTITY = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);

/** The same as `pullTo` from any stand; `frame` is only said. */
export function pullFrom(shot: Shot, stand: Stand, grip: Grip, by: PullBy, goal: Place, frame: number): Record<ChannelKey, number> {
  const { channelIndex, controlIndex } = layoutOf(shot.rig);
  const keys = pullChannels(shot, grip.control, by, stand.led);
  const values = stand.values.slice();
  const at = keys.map((key) => channelIndex.get(key) as number);
  const top = shot.rig.controls[controlAt(at[0])];
  const spotOf = chainOf(shot, stand, grip, top);
  const length = chainLength(shot.rig, grip, top);
  const seen = transform(stand.worlds, worldAt(controlIndex.get(grip.control) as number), grip.spot);
  const ruled = chainDown(shot.rig, grip, top).some(({ id }) => stand.ruled?.has(id));
  if (ruled || distance(spotOf(values), seen) > length * 1e-4)
    throw new KneaderError(
      "locked",
      `${controlById(shot.rig, grip.control)?.name ?? grip.control} is led by something else at frame ${frame}, so its own channels have no say.`,
      "Pull what it goes after, or bake it down first.",
    );
  approach(values, {
    goal,
    at: spotOf,
    slope: (at, i) => slopeOf(at, i, spotOf, length),
    free: at,
    share: (steps) => Math.min(1, STEP / (Math.max(...at.map((i, n) => (moveAxisOf(i) >= 0 ? 0 : Math.abs(steps[n])))) || 1)),
    near: length * NEAR,
    rounds: ROUNDS,
  });
  return Object.fromEntries(keys.map((key, n) => [key, values[at[n]]]));
}

/** How the spot moves with a channel, by central differences. */
function slopeOf(values: Float64Array, i: number, spotOf: (values: Float64Array) => number[], length: number): number[] {
  const step = moveAxisOf(i) >= 0 ? length * 1e-4 : 1e-2;
  const kept = values[i];
  values[i] = kept + step;
  const more = spotOf(values);
  values[i] = kept - step;
  const less = spotOf(values);
  values[i] = kept;
  return more.map((value, k) => (value - less[k]) / (2 * step));
}

/** Where the gripped spot is for given channel values, everything above `top` left in place. */
function chainOf(shot: Shot, stand: Stand, grip: Grip, top: Control): (values: Float64Array) => number[] {
  const { controlIndex: index } = layoutOf(shot.rig);
  const chain = chainDown(shot.rig, grip, top);
  const above = new Float64Array(16);
  frameOf(above, shot, stand, index.get(top.id) as number);
  const world = new Float64Array(16);
  const local = new Float64Array(16);
  return (values) => {
    world.set(above);
    for (const control of chain) {
      writeLocal(local, control, values, index.get(control.id) as number);
      multiplyAffine(world, 0, world.slice(), 0, local, 0);
    }
    return transform(world, 0, grip.spot);
  };
}

/** From `top` down to the gripped control. */
function chainDown(rig: Rig, grip: Grip, top: Control): Control[] {
  const chain: Control[] = [];
  for (let id: string | null = grip.control; id !== null; ) {
    const control = controlById(rig, id) as Control;
    chain.unshift(control);
    id = control === top ? null : control.parent;
  }
  return chain;
}

function chainLength(rig: Rig, grip: Grip, top: Control): number {
  const [, ...rest] = chainDown(rig, grip, top);
  return rest.reduce((sum, control) => sum + Math.hypot(...control.rest), Math.hypot(...grip.spot)) || 1;
}

function transform(m: Float64Array, o: number, [x, y, z]: Place): number[] {
  return [0, 1, 2].map((k) => m[o + k] * x + m[o + 4 + k] * y + m[o + 8 + k] * z + m[o + 12 + k]);
}

const distance = (a: readonly number[], b: readonly number[]) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
