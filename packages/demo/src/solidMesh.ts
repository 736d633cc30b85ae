import type { Solid } from "./figure.ts";

/** Triangles of a solid in its control's frame: three numbers a vertex, three vertices a triangle. */
export interface SolidMesh {
  readonly positions: number[];
  readonly normals: number[];
  readonly index: number[];
}

type Vec = readonly [number, number, number];

const ROUND = 10;

/** One solid as triangles, counter-clockwise from outside. */
export function solidMesh(solid: Solid): SolidMesh {
  const { a, size } = solid;
  if (solid.shape === "ball") {
    const [x, y, z] = size;
    const fine = Math.max(x, y, z) > 0.06 ? 12 : Math.max(x, y, z) > 0.03 ? 9 : 7;
    return turned(halfCircle(Math.max(5, Math.round(fine * 0.7))), fine, (p) => [a[0] + p[0] * x, a[1] + p[1] * y, a[2] + p[2] * z], [
      x,
      y,
      z,
    ]);
  }
  if (solid.shape === "ring") {
    const [ring, tube] = size;
    const profile = Array.from({ length: 7 }, (_, i) => {
      const angle = Math.PI / 2 - (i / 6) * 2 * Math.PI;
      return [ring + Math.cos(angle) * tube, Math.sin(angle) * tube] as const;
    });
    return turned(profile, 14, (p) => [a[0] + p[0], a[1] + p[1], a[2] + p[2]]);
  }
  const b = solid.b ?? a;
  const along: Vec = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const length = Math.hypot(...along) || 1;
  const [side, up, front] = frameAlong([along[0] / length, along[1] / length, along[2] / length]);
  const put = (p: Vec): Vec => [0, 1, 2].map((k) => a[k] + side[k] * p[0] + up[k] * p[1] + front[k] * p[2]) as unknown as Vec;
  const [r0, r1] = size;
  if (solid.shape === "cone")
    return turned(
      [
        [0, length],
        [r1, length],
        [r1, length],
        [r0, 0],
        [r0, 0],
        [0, 0],
      ],
      ROUND,
      put,
    );
  // Fingers and the like are seen small.
  const isSmall = r0 < 0.02;
  const steps = isSmall ? 2 : 3;
  const cap = (radius: number, at: number, from: number) =>
    Array.from({ length: steps + 1 }, (_, i) => {
      const angle = from - (i / steps) * (Math.PI / 2);
      return [Math.cos(angle) * radius, at + Math.sin(angle) * radius] as const;
    });
  return turned([...cap(r1, length, Math.PI / 2), ...cap(r0, 0, 0)], isSmall ? 6 : ROUND, put);
}

const halfCircle = (steps: number) =>
  Array.from({ length: steps + 1 }, (_, i) => {
    const angle = Math.PI / 2 - (i / steps) * Math.PI;
    return [Math.cos(angle), Math.sin(angle)] as const;
  });

/** Three directions at right angles, the second as given. */
function frameAlong(up: Vec): [Vec, Vec, Vec] {
  const other: Vec = Math.abs(up[0]) < 0.8 ? [1, 0, 0] : [0, 0, 1];
  const front = unit(cross(other, up));
  return [cross(up, front), up, front];
}

const cross = (p: Vec, q: Vec): Vec => [p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]];

function unit(p: Vec): Vec {
  const length = Math.hypot(...p) || 1;
  return [p[0] / length, p[1] / length, p[2] / length];
}

/** A profile (distance from the axis, height; from the top down) turned about Y and put in its place. */
function turned(profile: readonly (readonly [number, number])[], sides: number, put: (p: Vec) => Vec, stretch: Vec = [1, 1, 1]): SolidMesh {
  const mesh: SolidMesh = { positions: [], normals: [], index: [] };
  const origin = put([0, 0, 0]);
  profile.forEach(([radius, height], i) => {
    const [before, after] = [profile[Math.max(0, i - 1)], profile[Math.min(profile.length - 1, i + 1)]];
    // Across the profile; of an edge that is there twice, each side has its own.
    const [dx, dy] = [after[0] - before[0], after[1] - before[1]];
    for (let s = 0; s <= sides; s++) {
      const angle = (s / sides) * 2 * Math.PI;
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
      mesh.positions.push(...put([cos * radius, height, sin * radius]));
      const out = put([(cos * -dy) / stretch[0] ** 2, dx / stretch[1] ** 2, (sin * -dy) / stretch[2] ** 2]);
      mesh.normals.push(...unit([out[0] - origin[0], out[1] - origin[1], out[2] - origin[2]]));
      if (i === 0 || s === sides) continue;
      const [p, q] = [(i - 1) * (sides + 1) + s, i * (sides + 1) + s];
      mesh.index.push(p, p + 1, q, p + 1, q + 1, q);
    }
  });
  return mesh;
}
