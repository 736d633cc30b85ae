import { constraintKind } from "../../constraints/kinds.ts";
import { tiesOf } from "../../constraints/ledControls.ts";
import { plant, type PlantSettings } from "../../constraints/plant.ts";
import { space, type SpaceSettings } from "../../constraints/space.ts";
import { spaceOf, switchesOf, withSwitches } from "../../constraints/spaces.ts";
import { reverseSpan } from "../../curve/edit.ts";
import { channelKey } from "../../model/rig.ts";
import { type FrameRange, type Shot, withConstraint } from "../../model/shot.ts";

/**
 * What leads controls all of whose keys were turned round in time, turned round with them: strengths, contacts that lie within the
 * range, and the spaces they live in. A switch is a frame later than its mirror image, as one frame before it the old space
 * still rules.
 */
export function reverseTies(shot: Shot, { start, end }: FrameRange, isReversed: (control: string) => boolean): Shot {
  let after = shot;
  for (const tie of shot.constraints) {
    if (!tiesOf(tie).writes.every(isReversed)) continue;
    if (tie.kind === space.id) {
      if (tie.on) after = reverseSpaces(after, (tie.settings as SpaceSettings).control, { start, end });
      continue;
    }
    const names = constraintKind(tie.kind)?.channels(tie.settings) ?? [];
    after = withConstraint(after, tie.id, (one) => {
      const curves = { ...one.curves };
      for (const { name } of names) {
        const key = channelKey(one.id, name);
        if ((curves[key]?.times.length ?? 0) > 1) curves[key] = reverseSpan(curves[key], start, end);
      }
      return {
        ...one,
        curves,
        ...(one.kind === plant.id ? { settings: { ...one.settings, contacts: reversed(one.settings as PlantSettings, start, end) } } : {}),
      };
    });
  }
  return after;
}

function reversed({ contacts }: PlantSettings, start: number, end: number): PlantSettings["contacts"] {
  const turned = contacts.map((one) => {
    if (one.start < start || one.end > end) return one;
    return { ...one, start: start + end - one.end, end: start + end - one.start, easeIn: one.easeOut, easeOut: one.easeIn };
  });
  return turned.sort((a, b) => a.start - b.start);
}

function reverseSpaces(shot: Shot, control: string, { start, end }: FrameRange): Shot {
  const was = switchesOf(shot, control);
  const within = was.filter(({ frame }) => frame > start + 1e-6 && frame <= end + 1e-6);
  if (within.length === 0) return shot;
  const turned = within.map(({ frame }) => ({ frame: start + end - frame + 1, space: spaceOf(was, frame - 1) }));
  const outside = was.filter(({ frame }) => frame <= start + 1e-6 || frame > end + 1e-6);
  const after = end < shot.range.end ? [{ frame: end + 1, space: spaceOf(was, end + 1) }] : [];
  return withSwitches(shot, control, [
    ...outside,
    { frame: start > shot.range.start ? start : Number.NEGATIVE_INFINITY, space: spaceOf(was, end) },
    ...turned,
    ...after,
  ]);
}
