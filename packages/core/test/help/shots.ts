import type { Curve } from "../../src/curve/curve.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { findPartners } from "../../src/figure/partners.ts";
import { type Control, makeControl, type Rig } from "../../src/model/rig.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { emptyShot, makePass } from "../../src/model/shotFields.ts";

export function control(id: string, parent: string | null, rest: [number, number, number], more: Partial<Control> = {}): Control {
  return makeControl(id, { name: id.replaceAll("-", " "), parent, rest, part: "body", ...more });
}

/** A root, a spine, two arms of two bones with a hand each: the least figure that can be mirrored. */
const smallRig: Rig = {
  id: "rig-small",
  name: "Small",
  figure: null,
  controls: findPartners([
    control("root", null, [0, 1, 0]),
    control("spine", "root", [0, 0.4, 0], { order: "YXZ" }),
    control("arm-left", "spine", [0.2, 0.3, 0], { order: "ZXY" }),
    control("hand-left", "arm-left", [0.4, 0, 0]),
    control("arm-right", "spine", [-0.2, 0.3, 0], { order: "ZXY" }),
    control("hand-right", "arm-right", [-0.4, 0, 0]),
  ]),
};

export function smallShot(base: Record<string, Curve> = {}, more: Partial<Shot> = {}): Shot {
  return emptyShot({ id: "shot-small", name: "Small shot", rig: smallRig, range: { start: 1, end: 49 }, unitMetres: 1, base, ...more });
}

/** A little motion on several controls, keyed at shared frames. */
export function movingShot(more: Partial<Shot> = {}): Shot {
  return smallShot(
    {
      "root.moveX": curveFrom([
        [1, 0],
        [13, 0.4],
        [25, 0.9],
        [49, 2],
      ]),
      "root.rotateY": curveFrom([
        [1, 0],
        [25, 40],
        [49, 10],
      ]),
      "spine.rotateX": curveFrom([
        [1, 5],
        [13, -20],
        [25, 30],
        [49, 0],
      ]),
      "arm-left.rotateZ": curveFrom([
        [1, -60],
        [13, 10],
        [25, 45],
        [49, -60],
      ]),
      "arm-right.rotateZ": curveFrom([
        [1, 60],
        [25, 20],
        [49, 60],
      ]),
      "hand-left.rotateX": curveFrom([
        [1, 0],
        [13, 25],
        [49, -10],
      ]),
    },
    more,
  );
}

export function passOf(kind: "adds" | "replaces", curves: Record<string, Curve>, more: Partial<Pass> = {}): Pass {
  return { ...makePass(`pass-${kind}`, `Pass ${kind}`, kind, curves), ...more };
}
