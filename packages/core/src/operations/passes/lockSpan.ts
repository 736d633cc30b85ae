import { type Curve, keyOn, keysOf, Tangent } from "../../curve/curve.ts";
import { insertKeyOn } from "../../curve/edit.ts";
import { curveFrom, curveFromKeys } from "../../curve/make.ts";
import { freedKey } from "../../curve/turn.ts";
import { KneaderError } from "../../errors.ts";
import type { ChannelKey } from "../../model/rig.ts";
import type { FrameRange, Pass, Shot } from "../../model/shot.ts";
import { passKind } from "../../passes/kinds.ts";
import { changeCurves } from "../shared/scope.ts";

/**
 * Keys at both ends of a span, on channels of a keyed pass, between which it can be keyed without any change
 * outside: the pass stays what it is now at the ends and beyond, slopes included.
 * Raises `bad-setting` where a replacing pass would begin to hold its pose outside the span.
 */
export function withLockedSpan(shot: Shot, id: string, channels: readonly ChannelKey[], span: FrameRange): Shot {
  const pass = shot.passes.find((one) => one.id === id);
  const kind = passKind(pass?.kind ?? "");
  if (!pass || kind?.reads !== "keys") return shot;
  const changed: Record<ChannelKey, Curve> = {};
  for (const key of channels) {
    const curve = pass.curves[key];
    if (!curve && kind.neutral(1) !== 0 && !within(pass, span))
      throw new KneaderError(
        "bad-setting",
        `"${pass.name}" replaces what is below: keyed within frames ${span.start} to ${span.end} it would hold that pose outside too.`,
        "Nudge in a pass that adds, or give this pass that range in the pass tray.",
      );
    const ends: [number, number][] = [
      [span.start, 0],
      [span.end, 0],
    ];
    if (curve) changed[key] = heldAt(curve, span);
    else if (kind.neutral(1) === 0) changed[key] = curveFrom(ends, Tangent.flat);
  }
  return changeCurves(shot, id, changed);
}

const within = ({ range }: Pass, span: FrameRange) => range !== null && range.start >= span.start && range.end <= span.end;

/** The same curve with keys at both ends of a span; no key between them can change a slope at the ends or outside. */
function heldAt(curve: Curve, { start, end }: FrameRange): Curve {
  const keyed = insertKeyOn(insertKeyOn(curve, start), end);
  const keys = keysOf(keyed);
  const [first, last] = [keyOn(keyed, start), keyOn(keyed, end)];
  for (const i of [first, last]) {
    const { kindIn, kindOut } = keys[i];
    keys[i] = {
      ...keys[i],
      kindIn: kindIn === Tangent.stepped ? kindIn : Tangent.free,
      kindOut: kindOut === Tangent.stepped ? kindOut : Tangent.free,
    };
  }
  // The slope of an end of the curve looks two keys ahead, and so may look past the span's end.
  for (const i of [first - 1, last + 1]) if (keys[i]) keys[i] = freedKey(keys[i]);
  return curveFromKeys(keys, keyed);
}
