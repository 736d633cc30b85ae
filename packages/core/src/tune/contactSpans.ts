import { endMotion, findContacts } from "../evaluate/contacts.ts";
import { feetOf } from "../figure/anatomy/feet.ts";
import type { FrameRange } from "../model/shot.ts";
import type { Subject } from "./cost.ts";
import type { FigureMotion } from "./figureMotion.ts";

/** What counts as standing, for a grown person's size (scene units there are metres); as for planting. */
const PERSON = { size: 1.7, speed: 0.35, height: 0.05, shortest: 3 };

export interface Foot {
  readonly point: number;
  readonly name: string;
}

/** The feet of a figure with their toes; empty where none are known. */
export function footPoints({ shot, looks, index }: Subject): Foot[] {
  return feetOf(shot.rig).map((id) => {
    const control = index.get(id) as number;
    return { point: looks.point(control), name: shot.rig.controls[control].name };
  });
}

/** By motion and point: several costs look at the same feet, and parts of a shot at those of the whole. */
const known = new WeakMap<FigureMotion, Map<number, readonly FrameRange[]>>();

/** When a foot stands, in frames counted from the first of a motion, which is not written to any more. */
export function contactsOf(subject: Subject, motion: FigureMotion, foot: Foot): readonly FrameRange[] {
  const ofMotion = known.get(motion) ?? new Map<number, readonly FrameRange[]>();
  known.set(motion, ofMotion);
  const spans = ofMotion.get(foot.point) ?? findSpans(subject, motion, foot);
  ofMotion.set(foot.point, spans);
  return spans;
}

function findSpans({ size, fps }: Subject, motion: FigureMotion, { point }: Foot): FrameRange[] {
  const larger = size / PERSON.size;
  const points = motion.places.length / (3 * motion.count);
  const path = Float64Array.from({ length: motion.count * 3 }, (_, n) => motion.places[(Math.floor(n / 3) * points + point) * 3 + (n % 3)]);
  const rule = { speed: PERSON.speed * larger, height: PERSON.height * larger, shortest: PERSON.shortest };
  return findContacts(endMotion(path, 0, fps), rule);
}
