import { bodyOf } from "../figure/anatomy/bodyOf.ts";
import { skeletonOf } from "../figure/anatomy/skeleton.ts";
import type { Subject } from "./cost.ts";

/** A point an eye follows. */
export interface End {
  /** Its number among the points looked at. */
  readonly point: number;
  readonly name: string;
}

/** What an eye follows of a figure: hands, feet, head, tail and pelvis; of another figure, what nothing hangs on. */
export function endsOf({ shot, looks }: Subject): End[] {
  const skeleton = skeletonOf(shot.rig);
  const { controls, children } = skeleton;
  const body = bodyOf(skeleton);
  const found = body
    ? [
        body.trunk[0],
        body.trunk[body.head],
        ...Object.values(body.legs).map(({ chain, end }) => chain[end]),
        ...Object.values(body.arms ?? {}).map(({ chain, end }) => chain[end]),
        ...body.tail.slice(-1),
      ]
    : controls.flatMap(({ role }, i) => (role === "figure" && !children[i].some((child) => controls[child].role === "figure") ? [i] : []));
  const all = found.length > 0 ? found : controls.map((_, i) => i);
  return all.map((i) => ({ point: looks.point(i, children[i].length === 0 ? controls[i].tip : undefined), name: controls[i].name }));
}
