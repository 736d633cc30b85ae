/** A closed surface: three numbers a vertex, three vertices a triangle. */
export interface Net {
  readonly positions: number[];
  readonly index: number[];
}

/** Values on a grid of points, x running fastest. */
export interface Grid {
  readonly low: readonly [number, number, number];
  readonly cell: number;
  readonly size: readonly [number, number, number];
  readonly values: Float32Array;
}

/** Corners of a cell, as steps along x, y and z. */
const corners = Array.from({ length: 8 }, (_, n) => [n & 1, (n >> 1) & 1, n >> 2] as const);
/** Edges of a cell: corners that differ along one axis. */
const edges = corners.flatMap((_, a) => [1, 2, 4].flatMap((bit) => ((a & bit) === 0 ? [[a, a | bit] as const] : [])));

/**
 * The surface on which a field of distances is 0, negative inside: one vertex a cell it passes through, in the middle of where it cuts
 * the cell's edges (naive surface nets, Gibson 1998). Triangles are counter-clockwise from outside.
 */
export function surfaceNets({ low, cell, size, values }: Grid): Net {
  const [nx, ny, nz] = size;
  const step = [1, nx, nx * ny];
  const vertexOf = new Int32Array(nx * ny * nz).fill(-1);
  const positions: number[] = [];
  const corner = corners.map(([x, y, z]) => x * step[0] + y * step[1] + z * step[2]);
  for (let z = 0; z + 1 < nz; z++)
    for (let y = 0; y + 1 < ny; y++)
      for (let x = 0; x + 1 < nx; x++) {
        const at = x + y * step[1] + z * step[2];
        // Further from the surface than a cell is wide across nothing can be cut.
        if (Math.abs(values[at]) > 2 * cell) continue;
        let inside = 0;
        for (let n = 0; n < 8; n++) if (values[at + corner[n]] < 0) inside++;
        if (inside === 0 || inside === 8) continue;
        let [sx, sy, sz, cuts] = [0, 0, 0, 0];
        for (let e = 0; e < edges.length; e++) {
          const a = edges[e][0];
          const b = edges[e][1];
          const va = values[at + corner[a]];
          const vb = values[at + corner[b]];
          if (va < 0 === vb < 0) continue;
          const t = va / (va - vb);
          sx += corners[a][0] + (corners[b][0] - corners[a][0]) * t;
          sy += corners[a][1] + (corners[b][1] - corners[a][1]) * t;
          sz += corners[a][2] + (corners[b][2] - corners[a][2]) * t;
          cuts++;
        }
        vertexOf[at] = positions.length / 3;
        positions.push(low[0] + (x + sx / cuts) * cell, low[1] + (y + sy / cuts) * cell, low[2] + (z + sz / cuts) * cell);
      }
  const index: number[] = [];
  for (let z = 1; z + 1 < nz; z++)
    for (let y = 1; y + 1 < ny; y++)
      for (let x = 1; x + 1 < nx; x++) {
        const at = x + y * step[1] + z * step[2];
        if (Math.abs(values[at]) > 2 * cell) continue;
        for (let axis = 0; axis < 3; axis++) {
          const isIn = values[at] < 0;
          if (isIn === values[at + step[axis]] < 0) continue;
          const [u, v] = [step[(axis + 1) % 3], step[(axis + 2) % 3]];
          // The four cells around the edge, in the order in which they go round it.
          const ring = [at - u - v, at - v, at, at - u].map((cellAt) => vertexOf[cellAt]);
          const [a, b, c, d] = isIn ? ring : [ring[3], ring[2], ring[1], ring[0]];
          index.push(a, b, c, a, c, d);
        }
      }
  return { positions, index };
}
