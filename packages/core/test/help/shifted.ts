import { constraintKind } from "../../src/constraints/kinds.ts";
import type { Curve } from "../../src/curve/curve.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { allCurves, mapCurves } from "../../src/model/shotFields.ts";
import { computedKind } from "../../src/passes/kinds.ts";

const later = (curve: Curve, by: number): Curve => ({ ...curve, times: curve.times.map((time) => time + by) });

/** The same shot so many frames later: written apart from the operations that retime. */
export function shifted(shot: Shot, by: number): Shot {
  const to = (frame: number) => frame + by;
  // What an action holds is counted from its own beginning.
  const moved = mapCurves(shot, (curve, where) => (where.startsWith("action/") ? curve : later(curve, by)));
  const passOf = (pass: Pass, before: Pass): Pass => {
    const range = pass.range && { ...pass.range, start: to(pass.range.start), end: to(pass.range.end) };
    const kind = computedKind(pass.kind);
    return kind ? { ...kind.retimed({ ...pass, curves: before.curves }, to), range } : { ...pass, range };
  };
  return {
    ...moved,
    range: { start: to(shot.range.start), end: to(shot.range.end) },
    poseMarks: shot.poseMarks.map((mark) => ({ ...mark, frame: to(mark.frame) })),
    passes: moved.passes.map((pass, n) => passOf(pass, shot.passes[n])),
    constraints: moved.constraints.map((one) => {
      const settings = constraintKind(one.kind)?.retimed?.(one.settings, to) as typeof one.settings | undefined;
      return settings ? { ...one, settings } : one;
    }),
    asset: shot.asset && { ...shot.asset, firstFrame: to(shot.asset.firstFrame) },
  };
}

/** The curves of a shot by where they stand; what has an id of its own, which may be by chance, by its place. */
function placed(shot: Shot): [string, Curve][] {
  const ids = [...shot.passes, ...shot.constraints, ...shot.versions].map(({ id }) => id);
  const named = ids.map((id, n) => [id, `#${n}`] as const).sort(([a], [b]) => b.length - a.length);
  return allCurves(shot).map(([where, curve]) => [named.reduce((name, [id, place]) => name.replaceAll(id, place), where), curve]);
}

/** Where the curves of two shots differ by more than rounding: the first places, each with how; none when they are alike. */
export function differences(a: Shot, b: Shot): string[] {
  const others = new Map(placed(b));
  const found: string[] = [];
  for (const [where, curve] of placed(a)) {
    const other = others.get(where);
    others.delete(where);
    if (!other) found.push(`${where}: gone`);
    else if (curve.times.length !== other.times.length) found.push(`${where}: ${curve.times.length} keys, ${other.times.length}`);
    else if (curve.times.length === 1) {
      // One key is a value all along, wherever it stands.
      if (Math.abs(curve.values[0] - other.values[0]) > 1e-6) found.push(`${where}: ${curve.values[0]}, ${other.values[0]}`);
    } else {
      const n = curve.times.findIndex(
        (time, i) =>
          Math.abs(time - other.times[i]) > 1e-6 || Math.abs(curve.values[i] - other.values[i]) > 1e-5 * (1 + Math.abs(curve.values[i])),
      );
      if (n >= 0) found.push(`${where}: at ${curve.times[n]} ${curve.values[n]}, at ${other.times[n]} ${other.values[n]}`);
    }
  }
  return [...found, ...[...others.keys()].map((where) => `${where}: new`)];
}
