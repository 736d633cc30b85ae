import type { Curve } from "../curve/curve.ts";
import { KneaderError } from "../errors.ts";
import { refuseCircles } from "../constraints/graph.ts";
import { tiesOf } from "../constraints/ledControls.ts";
import { rotationOrders } from "../maths/rotation.ts";
import type { Action } from "../model/action.ts";
import { type ChannelKey, type Control, splitChannelKey } from "../model/rig.ts";
import type { Curves, Shot } from "../model/shot.ts";
import { framesPerSecond, type Rate } from "../model/rate.ts";
import { allCurves } from "../model/shotFields.ts";
import { playPass } from "../passes/play.ts";
import { FURTHEST_FRAME, LARGEST_NUMBER, LONGEST_NAME, MOST_CONTROLS, MOST_FRAMES, MOST_SAMPLES, QUICKEST, SLOWEST } from "./limits.ts";

/*
 * The one gate through which whatever a reader made must go: what passes can be played, changed, and written in
 * every format. Readers say what is wrong with a file in the file's own terms; this says what is wrong with the shot.
 */

/** Shares may be past their limits by what rounding does. */
const ROUNDING = 1e-6;

function refuse(message: string, remedy = "Export the file again, or mend it by hand."): never {
  throw new KneaderError("shot-data", message, remedy);
}

function needNumber(value: number, where: string, most = LARGEST_NUMBER): void {
  if (typeof value !== "number" || !Number.isFinite(value)) refuse(`${where} is not a number.`);
  if (Math.abs(value) > most) refuse(`${where} is ${value}, beyond ±${most}.`);
}

function needNumbers(values: readonly number[], where: string): void {
  needColumn(Float64Array.from(values), where);
}

function needColumn(values: Float64Array, where: string, most = LARGEST_NUMBER): void {
  const i = firstBeyond(values, -most, most);
  if (i >= 0) refuse(`${where}, number ${i + 1} is ${values[i]}; it must be between ±${most}.`);
}

/** The place of the first number that is not between two others, or is none; −1 when all are. Long curves have millions. */
function firstBeyond(values: Float64Array, least: number, most: number): number {
  for (let i = 0; i < values.length; i++) if (!(values[i] >= least && values[i] <= most)) return i;
  return -1;
}

function checkRate(rate: Rate): void {
  const fps = framesPerSecond(rate);
  if (!(fps >= SLOWEST && fps <= QUICKEST)) refuse(`The rate is ${fps} frames a second; ${SLOWEST} to ${QUICKEST} can be played.`);
}

export function checkSpan(start: number, end: number, where: string): void {
  needNumber(start, `${where}: the first frame`, FURTHEST_FRAME);
  needNumber(end, `${where}: the last frame`, FURTHEST_FRAME);
  if (end < start) refuse(`${where} ends at frame ${end}, before it starts at ${start}.`);
  if (end - start > MOST_FRAMES) refuse(`${where} has ${end - start} frames; at the most ${MOST_FRAMES} are possible.`);
}

export function checkCurve(curve: Curve, where: string, most = LARGEST_NUMBER): void {
  const { times } = curve;
  if (times.length === 0) refuse(`${where} has no key.`);
  const far = firstBeyond(times, -FURTHEST_FRAME, FURTHEST_FRAME);
  if (far >= 0) refuse(`${where}: key ${far + 1} is at frame ${times[far]}, beyond ±${FURTHEST_FRAME}.`);
  for (let i = 1; i < times.length; i++)
    if (!(times[i] > times[i - 1])) refuse(`${where}: key ${i + 1} does not come after the one before it.`);
  if (times[times.length - 1] - times[0] > MOST_FRAMES)
    refuse(`${where} reaches over ${times[times.length - 1] - times[0]} frames; at the most ${MOST_FRAMES} are possible.`);
  needColumn(curve.values, where, most);
  for (const column of ["slopeIn", "slopeOut"] as const) needColumn(curve[column], `${where}, ${column}`);
  for (const column of ["weightIn", "weightOut"] as const) {
    const i = firstBeyond(curve[column], -ROUNDING, 1 + ROUNDING);
    if (i >= 0) refuse(`${where}, ${column}: a handle is ${curve[column][i]} of its segment; 0 to 1 is possible.`);
  }
  for (const run of [curve.runIn, curve.runOut])
    if (!Number.isInteger(run.rounds) || run.rounds < 0 || run.rounds > MOST_FRAMES) refuse(`${where} repeats ${run.rounds} times.`);
}

/** Parents before children, no id twice, partners that are there. */
function checkControls(controls: readonly Control[]): void {
  if (controls.length === 0) refuse("There is no control that could be posed.");
  if (controls.length > MOST_CONTROLS) refuse(`There are ${controls.length} controls; up to ${MOST_CONTROLS} can be opened.`);
  const ids = new Set<string>();
  for (const [i, control] of controls.entries()) {
    const { id, parent, rest, restTurn, channels } = control;
    if (typeof id !== "string" || id === "" || id.includes("."))
      refuse(`Control ${i + 1} has the id ${JSON.stringify(id)}; it needs one without dots.`);
    if (ids.has(id)) refuse(`Control "${id}" is there twice.`);
    if (parent !== null && !ids.has(parent)) refuse(`Control "${id}" hangs on "${parent}", which does not stand before it.`);
    ids.add(id);
    needNumbers(rest, `Control "${id}", its place at rest`);
    needNumbers(restTurn, `Control "${id}", its turn at rest`);
    if (control.tip) needNumbers(control.tip, `Control "${id}", its tip`);
    if (!(Math.abs(Math.hypot(...restTurn) - 1) < 1e-3)) refuse(`Control "${id}" rests at a turn that is no unit quaternion.`);
    if (!rotationOrders.includes(control.order)) refuse(`Control "${id}" turns in the order "${control.order}", which there is not.`);
    if (new Set(channels).size < channels.length) refuse(`Control "${id}" has a channel twice.`);
    for (const [channel, [low, high]] of Object.entries(control.ranges ?? {}))
      if (!(low <= high)) refuse(`Control "${id}", ${channel}: its range goes from ${low} to ${high}.`);
    if (channels.some((channel) => channel === "" || channel.includes("."))) refuse(`Control "${id}" has a channel without a name.`);
  }
  for (const { id, partner } of controls) {
    if (partner === null) continue;
    if (!ids.has(partner)) refuse(`Control "${id}" has the partner "${partner}", which there is not.`);
  }
}

/** All numbers in a value, however deep. */
function* numbersIn(value: unknown): Generator<number> {
  if (typeof value === "number") yield value;
  else if (typeof value === "object" && value !== null) for (const part of Object.values(value)) yield* numbersIn(part);
}

/** Constraints that have the controls they name, and no circle of what moves with what. */
function checkConstraints({ rig, constraints, passes }: Shot): void {
  const ids = new Set(rig.controls.map(({ id }) => id));
  for (const constraint of constraints) {
    // One that only looks at a control that is gone has no say; its row tells so.
    for (const named of tiesOf(constraint).writes)
      if (!ids.has(named)) refuse(`Constraint "${constraint.id}" names the control "${named}", which there is not.`);
    for (const [name, value] of Object.entries(constraint.settings))
      for (const number of numbersIn(value)) needNumber(number, `Constraint "${constraint.id}", its ${name}`);
  }
  try {
    refuseCircles({ rig, constraints, passes });
  } catch (error) {
    if (error instanceof KneaderError) refuse(error.message, "Take one of the constraints out of the file.");
    throw error;
  }
}

/** Passes that play what the shot carries; and what it carries, each once. */
function checkPlayed({ actions, passes }: Shot): void {
  const ids = new Set<string>();
  for (const { card, clip } of actions) {
    if (card.id === "" || ids.has(card.id)) refuse(`Action "${card.name}" has the id "${card.id}", which is empty or taken.`);
    ids.add(card.id);
    checkRate(clip.rate);
    checkSpan(0, clip.length, `Action "${card.name}"`);
  }
  for (const { name, kind, settings } of passes)
    if (kind === playPass.id && !ids.has(String(settings.action)))
      refuse(`Pass "${name}" plays the action "${String(settings.action)}", which the shot does not carry.`);
}

/** A name that can be shown and listed; what has none is given one. */
function named(name: string, otherwise: string): string {
  const plain = typeof name === "string" ? name.trim().slice(0, LONGEST_NAME) : "";
  return plain === "" ? otherwise : plain;
}

/** All of a shot but its curves. Errors: `shot-data`. */
export function checkAllButCurves(shot: Shot): void {
  checkRate(shot.rate);
  checkSpan(shot.range.start, shot.range.end, "The shot");
  if (shot.unitMetres !== null && !(shot.unitMetres >= 1e-9 && shot.unitMetres <= 1e9))
    refuse(`A scene unit is ${shot.unitMetres} metres long; it must be above 0.`);
  checkControls(shot.rig.controls);
  if (shot.rig.sides) needNumber(shot.rig.sides.at, "The middle of the figure");
  checkConstraints(shot);
  const ids = new Set<string>();
  for (const { id, name, range } of [...shot.passes, ...[...shot.constraints, ...shot.versions].map((one) => ({ ...one, range: null }))]) {
    if (id === "" || ids.has(id)) refuse(`"${name}" has the id "${id}", which is empty or taken.`);
    ids.add(id);
    if (!range) continue;
    checkSpan(range.start, range.end, `Pass "${name}"`);
    needNumber(range.easeIn, `Pass "${name}": its ease in`, FURTHEST_FRAME);
    needNumber(range.easeOut, `Pass "${name}": its ease out`, FURTHEST_FRAME);
  }
  checkPlayed(shot);
  for (const { frame } of shot.poseMarks) needNumber(frame, "The frame of a pose's mark", FURTHEST_FRAME);
}

/** The shot, with names where there were none, or a `shot-data` error that says what is wrong and where. */
export function checkShot(shot: Shot): Shot {
  checkAllButCurves(shot);
  for (const [where, curve] of allCurves(shot)) checkCurve(curve, `Curve "${where}"`);
  const controls = shot.rig.controls.every(({ name, id }) => named(name, id) === name)
    ? shot.rig.controls
    : shot.rig.controls.map((control) => ({ ...control, name: named(control.name, control.id) }));
  return { ...shot, name: named(shot.name, "Unnamed"), rig: controls === shot.rig.controls ? shot.rig : { ...shot.rig, controls } };
}

/** A shot must be of a size that can be written into every format. Errors: `shot-data`. */
export function checkSize({ rig, range }: Shot): void {
  const frames = range.end - range.start + 1;
  if (rig.controls.length * frames > MOST_SAMPLES)
    refuse(
      `The shot has ${rig.controls.length} controls over ${Math.round(frames)} frames; together that is more than can be played at once (${MOST_SAMPLES} samples).`,
      "Export a shorter range.",
    );
}

function checkCurves(curves: Curves, known: ReadonlySet<ChannelKey>): void {
  for (const key of Object.keys(curves)) {
    if (!known.has(splitChannelKey(key).control)) refuse(`Curve "${key}" is of a control that is not there.`);
    checkCurve(curves[key], `Curve "${key}"`);
  }
}

/** The same for an action. */
export function checkAction({ card, clip }: Action): Action {
  checkRate(clip.rate);
  checkSpan(0, clip.length, "The action");
  checkControls(clip.controls.map((control) => ({ ...control, partner: null })));
  checkCurves(clip.curves, new Set(clip.controls.map(({ id }) => id)));
  return { card: { ...card, name: named(card.name, "Unnamed"), folder: named(card.folder, "My actions") }, clip };
}

/** What copied keys hold must be fit for a shot too. */
export function checkClip(curves: Curves, length: number, rate: Rate): void {
  checkRate(rate);
  checkSpan(0, length, "What was copied");
  for (const key of Object.keys(curves)) checkCurve(curves[key], `Curve "${key}"`);
}
