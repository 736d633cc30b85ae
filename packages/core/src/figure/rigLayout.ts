import { channelKey, type Rig, restValue, transformChannels } from "../model/rig.ts";
import { orderNumber } from "../maths/rotation.ts";

/** Where a rig's controls and channels stand in flat arrays, and what they have at rest. Not to be written to. */
export interface RigLayout {
  /** By channel key: nine channels for each control (move, rotate, scale), then attributes. */
  readonly channelIndex: ReadonlyMap<string, number>;
  readonly controlIndex: ReadonlyMap<string, number>;
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
    for (let c = 0; c < 9; c++) channelIndex.set(channelKey(control.id, transformChannels[c]), i * 9 + c);
  });
  let next = controls.length * 9;
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
    rest,
    orders: Uint8Array.from(controls, (control) => orderNumber(control.order)),
    restTurns: Float64Array.from(controls.flatMap((control) => control.restTurn)),
    restMoves: Float64Array.from(controls.flatMap((control) => control.rest)),
  };
}
