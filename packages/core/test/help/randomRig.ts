import type { Curve } from "../../src/curve/curve.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { rotationOrders } from "../../src/maths/rotation.ts";
import { type Control, channelKey, makeControl } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { emptyShot } from "../../src/model/shotFields.ts";
import type { Chance } from "./chance.ts";

export function anyTurn(chance: Chance): [number, number, number, number] {
  const q = [0, 1, 2, 3].map(() => chance.between(-1, 1));
  const length = Math.hypot(...q) || 1;
  return [q[0] / length, q[1] / length, q[2] / length, q[3] / length];
}

/** A rig by chance: some at the top, others under those, resting turned, in any order of rotation. */
function randomRig(chance: Chance, count = 8): Control[] {
  const controls: Control[] = [];
  for (let n = 0; n < count; n++) {
    const parent = n < 2 || chance.next() < 0.15 ? null : chance.of(controls).id;
    controls.push(
      makeControl(`c${n}`, {
        name: `Control ${n}`,
        parent,
        rest: [chance.between(-1, 1), chance.between(-1, 1), chance.between(-1, 1)],
        restTurn: chance.next() < 0.3 ? [0, 0, 0, 1] : anyTurn(chance),
        order: chance.of(rotationOrders),
      }),
    );
  }
  return controls;
}

/** A shot of it with keys on everything; some controls are scaled, evenly and now and then to the other side. */
export function randomShot(chance: Chance, controls = randomRig(chance)): Shot {
  const base: Record<string, Curve> = {};
  const frames = [1, 9, 20, 30];
  for (const { id } of controls) {
    for (const channel of ["moveX", "moveY", "moveZ"])
      base[channelKey(id, channel)] = curveFrom(frames.map((f) => [f, chance.between(-0.5, 0.5)]));
    for (const channel of ["rotateX", "rotateY", "rotateZ"])
      base[channelKey(id, channel)] = curveFrom(frames.map((f) => [f, chance.between(-80, 80)]));
    if (chance.next() < 0.4) {
      const size = chance.between(0.5, 1.6) * (chance.next() < 0.2 ? -1 : 1);
      for (const channel of ["scaleX", "scaleY", "scaleZ"]) base[channelKey(id, channel)] = curveFrom([[1, size]]);
    }
  }
  return emptyShot({
    id: "random",
    name: "Random",
    rig: { id: "rig", name: "Rig", controls, figure: null },
    range: { start: 1, end: 30 },
    unitMetres: 1,
    base,
  });
}
