import { carry } from "../../constraints/carry.ts";
import { space, spaceFrame } from "../../constraints/space.ts";
import { spaceOf, switchesOf, withSwitches } from "../../constraints/spaces.ts";
import type { Curve } from "../../curve/curve.ts";
import { silenced } from "../../curve/silenced.ts";
import { constantCurve } from "../../curve/make.ts";
import { KneaderError } from "../../errors.ts";
import { channelKey, type Control } from "../../model/rig.ts";
import { type Constraint, type FrameRange, type Shot, withConstraint } from "../../model/shot.ts";
import { carryKeys } from "./carryKeys.ts";

/** What is baked over a span. */
interface SpanTold {
  readonly controls: readonly Control[];
  readonly ties: readonly Constraint[];
  readonly span: FrameRange;
  /** Frames that get keys within it. */
  readonly times: readonly number[];
  readonly isDense: boolean;
  /** By control: what its keys are relative to there; null for the world. */
  readonly into: readonly (string | null)[];
}

/**
 * Give controls keys of their own over a span and let nothing lead them there: strengths are 0 over it, they live in one
 * space, and outside it everything is as it was. Yields the share done. Errors: `bad-setting` for what is all or nothing.
 */
export function* bakeSpan(shot: Shot, { controls, ties, span, times, isDense, into }: SpanTold): Generator<number, Shot> {
  const carrier = ties.find(({ kind }) => kind === carry.id);
  if (carrier)
    throw new KneaderError(
      "bad-setting",
      `Bake down: ${carrier.name} all through the shot, which cannot be baked in part.`,
      "Clear the range.",
    );
  const { start, end } = span;
  let after = ties.filter(({ kind }) => kind !== space.id).reduce((now, tie) => silentOver(now, tie, span), shot);
  controls.forEach(({ id }, n) => {
    const was = switchesOf(shot, id);
    if (was.length === 1 && was[0].space === into[n]) return;
    const outside = was.filter(({ frame }) => frame < start - 1e-6 || frame > end + 1 + 1e-6);
    after = withSwitches(after, id, [...outside, { frame: start, space: into[n] }, { frame: end + 1, space: spaceOf(was, end + 1) }]);
  });
  const first = shot.range.start;
  const before = start > first + 1e-6 ? [start - 1] : [];
  for (const [n, { id }] of controls.entries()) {
    const frameAt = spaceFrame(shot.rig, id, into[n]);
    const steps = carryKeys(shot, after, {
      control: id,
      changes: (frame) => frame >= start - 1e-6 && frame <= end + 1e-6,
      frameAt: (out, worlds) => frameAt(out, worlds),
      keyed: [...before, ...times, end + 1],
      held: new Set([...before, end]),
      jumps: new Set(
        switchesOf(shot, id)
          .slice(1)
          .map(({ frame }) => frame),
      ),
      linear: isDense,
    });
    let step = steps.next();
    for (; !step.done; step = steps.next()) yield (n + step.value) / controls.length;
    after = step.value;
  }
  return after;
}

/** A constraint that has no strength over a span; outside it, it is as strong as it was. */
function silentOver(shot: Shot, { id }: Constraint, span: FrameRange): Shot {
  return withConstraint(shot, id, (one) => {
    const key = channelKey(id, "strength");
    const given: Curve = one.curves[key] ?? constantCurve(1, shot.range.start);
    return { ...one, curves: { ...one.curves, [key]: silenced(given, span, shot.range.start) } };
  });
}
