import { channelKey, type Rig, restValue, transformChannels } from "../model/rig.ts";
import { orderNumber } from "../maths/rotation.ts";

/** Numbers a control has in an array of channel values: move, rotate in degrees, scale, three each. */
const NUMBERS = 9;

/** Where a control's three moves stand in an array of channel values. */
export const moveAt = (control: number): number => control * NUMBERS;
/** Where its three angles stand there. */
export const turnAt = (control: number): number => control * NUMBERS + 3;
/** Where its three scales stand there. */
export const scaleAt = (control: number): number => control * NUMBERS + 6;
/** Where its world matrix stands in `worlds`. */
export const worldAt = (control: number): number => control * 16;
/** Where its world place stands in `worlds`. */
export const placeAt = (control: number): number => control * 16 + 12;
/** Where own attributes begin, for a rig of so many controls. */
export const attributesAt = (controls: number): number => controls * NUMBERS;
/** The control of a channel that is no attribute. */
export const controlAt = (channel: number): number => Math.floor(channel / NUMBERS);
/** Which of X, Y, Z (0, 1, 2) a channel that is no attribute moves along; −1 when it does not move. */
export const moveAxisOf = (channel: number): number => (channel % NUMBERS < 3 ? channel % NUMBERS : -1);
/** Which of X, Y, Z (0, 1, 2) it turns about; −1 when it does not turn. */
export const turnAxisOf = (channel: number): number => (channel % NUMBERS >= 3 && channel % NUMBERS < 6 ? (channel % NUMBERS) - 3 : -1);

/** Where a rig's controls and channels stand in flat arrays, and what they have at rest. Not to be written to. */
export interface RigLayout {
  /** By channel key: nine channels for each control (move, rotate, scale), then attributes. */
  readonly channelIndex: ReadonlyMap<string, number>;
  readonly controlIndex: ReadonlyMap<string, number>;
  /** By control: the control above, −1 at the top. */
  readonly parents: Int32Array;
  /** Rest value of every channel. */
  readonly rest: Float64Array;
  readonly orders: Uint8Array;
  /** Four numbers a control. */
  readonly restTurns: Float64Array;
  /** Three numbers a control. */
  readonly restMoves: Float64Array;
}

const layouts = new WeakMap<Rig, RigLayout>();

/** The layout of a rig, worked out once: every change of a shot makes a new player of the same rig. */
export function layoutOf(rig: Rig): RigLayout {
  let layout = layouts.get(rig);
  if (!layout) {
    layout = layOut(rig);
    layouts.set(rig, layout);
  }
  return layout;
}

function layOut({ controls }: Rig): RigLayout {
  const controlIndex = new Map(controls.map((control, i) => [control.id, i]));
  const channelIndex = new Map<string, number>();
  controls.forEach((control, i) => {
    for (let c = 0; c < NUMBERS; c++) channelIndex.set(channelKey(control.id, transformChannels[c]), i * NUMBERS + c);
  });
  let next = attributesAt(controls.length);
  for (const control of controls)
    for (const channel of control.channels) {
      const key = channelKey(control.id, channel);
      if (!channelIndex.has(key)) channelIndex.set(key, next++);
    }
  const rest = new Float64Array(next);
  for (const [key, i] of channelIndex) rest[i] = restValue(key.slice(key.lastIndexOf(".") + 1));
  return {
    channelIndex,
    controlIndex,
    parents: Int32Array.from(controls, ({ parent }) => (parent === null ? -1 : (controlIndex.get(parent) ?? -1))),
    rest,
    orders: Uint8Array.from(controls, (control) => orderNumber(control.order)),
    restTurns: Float64Array.from(controls.flatMap((control) => control.restTurn)),
    restMoves: Float64Array.from(controls.flatMap((control) => control.rest)),
  };
}
