import { bodyOf, type FigureBody, type Rig } from "@kneader/core";
import { otterBody } from "@kneader/demo";

const bodies = new WeakMap<Rig, FigureBody>();

/** The body that is drawn for a rig: the otter's own, or soft volumes found from the hierarchy. */
export function bodyFor(rig: Rig): FigureBody {
  let body = bodies.get(rig);
  if (!body) {
    body = rig.figure === "otter" ? otterBody(rig) : bodyOf(rig);
    bodies.set(rig, body);
  }
  return body;
}
