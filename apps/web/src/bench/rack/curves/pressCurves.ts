import type { ChannelKey, Shot } from "@kneader/core";
import { useSelection } from "../../selection.ts";
import { frameAt } from "../../timeAxis.ts";
import { gripAt, type KeyBox } from "../plot/keyBox.ts";
import { type Box, followBox, type Spot, spotsIn } from "../plot/pickBox.ts";
import { isCarryPress, isPanPress } from "../plot/useTimeGestures.ts";
import { dragGrip, dragHandle, dragKeys, hitHandle } from "./curvePress.ts";
import { type CurveAxes, hitKey, keysInBox } from "./curveView.ts";
import type { DrawnCurve } from "./drawCurves.ts";
import { dragResult, hitResult } from "./resultPress.ts";

/** All that a press on the curves needs to know. */
export interface Plot {
  readonly shot: Shot;
  readonly layer: string;
  readonly axes: CurveAxes;
  readonly drawn: readonly DrawnCurve[];
  /** Those that are not locked. */
  readonly open: readonly DrawnCurve[];
  /** Times of picked keys by channel. */
  readonly keys: Readonly<Record<ChannelKey, readonly number[]>>;
  /** The box around the picked keys, where it is shown. */
  readonly keyBox: KeyBox | null;
  readonly readOnly: boolean;
}

const cursors = {
  tl: "nwse-resize",
  br: "nwse-resize",
  tr: "nesw-resize",
  bl: "nesw-resize",
  t: "ns-resize",
  b: "ns-resize",
  l: "ew-resize",
  r: "ew-resize",
  inside: "move",
} as const;

/** What a press at a spot would take hold of, as the pointer's shape. */
export function cursorAt({ open, keys, axes, keyBox }: Plot, { x, y }: Spot): string {
  const grip = keyBox ? gripAt(keyBox, x, y, axes) : null;
  const over = grip && (hitHandle(open, keys, { x, y }, axes) || hitKey(open, x, y, axes));
  return grip && !over ? cursors[grip] : "";
}

/** Pick, box, or drag keys, handles, the result, and the box around picked keys: whatever the press hits first. */
export function pressCurves(plot: Plot, event: React.PointerEvent, showBox: (box: Box | null) => void): void {
  const { shot, layer, axes, drawn, open, keys, keyBox, readOnly } = plot;
  if (isPanPress(event) || (event.button !== 0 && !isCarryPress(event))) return;
  const at = spotsIn(event);
  const start = at(event);
  const { pickKeys } = useSelection.getState();
  if (isCarryPress(event)) {
    event.preventDefault();
    if (!readOnly) dragKeys(start, at, Math.round(frameAt(axes, start.x)), open, axes);
    return;
  }
  const handle = readOnly ? null : hitHandle(open, keys, start, axes);
  const hit = handle ? null : hitKey(open, start.x, start.y, axes);
  const result = handle || hit || readOnly ? null : hitResult(drawn, start, axes);
  const grip = keyBox && !event.shiftKey ? gripAt(keyBox, start.x, start.y, axes) : null;
  if (handle) dragHandle(handle, at, shot, layer, axes);
  else if (hit) pressKey(plot, event, hit);
  else if (result) dragResult(result, start, at, shot, layer, axes);
  else if (grip && grip !== "inside" && keyBox) dragGrip(keyBox, grip, start, at, open, axes);
  else if (grip === "inside") dragKeys(start, at, Math.round(frameAt(axes, start.x)), open, axes);
  else pressGround();

  function pressGround(): void {
    followBox(start, at, showBox, (area) => {
      const found = area ? keysInBox(open, area, axes) : {};
      pickKeys(event.shiftKey ? { ...keys, ...found } : found);
    });
  }
}

/** A press on a key picks it (with Shift it joins or leaves what is picked) and takes hold of all that is picked. */
function pressKey({ open, keys, axes, readOnly }: Plot, event: React.PointerEvent, hit: { key: ChannelKey; index: number }): void {
  const { pickKeys } = useSelection.getState();
  const time = open.find(({ key }) => key === hit.key)?.curve.times[hit.index] as number;
  const already = keys[hit.key]?.some((t) => Math.abs(t - time) < 1e-6) ?? false;
  if (event.shiftKey) {
    const rest = (keys[hit.key] ?? []).filter((t) => Math.abs(t - time) > 1e-6);
    const { [hit.key]: _, ...others } = keys;
    const list = already ? rest : [...rest, time];
    pickKeys(list.length > 0 ? { ...others, [hit.key]: list } : others);
    return;
  }
  if (!already) pickKeys({ [hit.key]: [time] });
  const at = spotsIn(event);
  if (!readOnly) dragKeys(at(event), at, time, open, axes);
}
