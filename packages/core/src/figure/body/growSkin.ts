import { invertAffine } from "../../maths/matrix.ts";
import type { BodySurface } from "./figureBody.ts";
import { type Flesh, PlacedFlesh } from "./flesh.ts";
import { type Grid, surfaceNets } from "./surfaceNets.ts";

/** How a skin is grown over flesh. */
export interface SkinChoices {
  /** Length of a grid cell. */
  readonly cell: number;
  /** How softly volumes run into each other: about so wide. */
  readonly soft: number;
  /** By control the one above it, −1 at the top: flesh up to two steps away in the hierarchy may move a vertex too. */
  readonly parents: ArrayLike<number>;
}

/**
 * One closed skin over soft volumes that run into each other: vertices, normals, colours, and for each vertex the
 * controls it moves with, by how near their flesh is. `worlds` are the controls' matrices where it is bound.
 */
export function growSkin(
  name: string,
  flesh: readonly Flesh[],
  joints: ReadonlyMap<string, number>,
  worlds: ArrayLike<number>,
  given: SkinChoices,
): BodySurface {
  const placed = largest(flesh.map((one) => place(one, joints.get(one.control) as number, worlds)));
  const most = MOST_CELLS * Math.min(1, Math.sqrt(MANY / flesh.length));
  const choices = { ...given, cell: Math.max(given.cell, extentOf(placed) / most) };
  const field = new Field(placed, choices);
  const { positions, index } = surfaceNets(fill(placed, field, choices));
  const count = positions.length / 3;
  const skin = {
    normals: new Float32Array(count * 3),
    colours: new Float32Array(count * 3),
    joints: new Uint16Array(count * 4),
    weights: new Float32Array(count * 4),
  };
  putNormals(skin.normals, positions, index);
  for (let n = 0; n < count; n++) {
    const [x, y, z] = [positions[n * 3], positions[n * 3 + 1], positions[n * 3 + 2]];
    bind(skin, n, [x, y, z], field.near(x, y, z), choices);
  }
  return { name, isLight: false, isProp: false, positions: Float32Array.from(positions), ...skin, index: Uint32Array.from(index) };
}

/** A skin is at the most so many cells long: what is far out of proportion is drawn coarser, not for ever. */
const MOST_CELLS = 160;
/** So many volumes, the largest, are grown over at the most. */
const MOST_VOLUMES = 300;
/** Of more volumes than this each costs too much to be looked at everywhere: the skin over them is coarser still. */
const MANY = 120;

function largest(placed: readonly PlacedFlesh[]): readonly PlacedFlesh[] {
  if (placed.length <= MOST_VOLUMES) return placed;
  return [...placed].sort((one, other) => other.reach - one.reach).slice(0, MOST_VOLUMES);
}

function extentOf(placed: readonly PlacedFlesh[]): number {
  const spans = [0, 1, 2].map(
    (k) =>
      Math.max(...placed.map(({ middle, reach }) => middle[k] + reach)) - Math.min(...placed.map(({ middle, reach }) => middle[k] - reach)),
  );
  return Math.max(...spans);
}

/** Each vertex faces as the triangles about it do, larger ones counting more. */
function putNormals(normals: Float32Array, positions: readonly number[], index: readonly number[]): void {
  for (let t = 0; t < index.length; t += 3) {
    const [a, b, c] = [index[t] * 3, index[t + 1] * 3, index[t + 2] * 3];
    const [ux, uy, uz] = [positions[b] - positions[a], positions[b + 1] - positions[a + 1], positions[b + 2] - positions[a + 2]];
    const [vx, vy, vz] = [positions[c] - positions[a], positions[c + 1] - positions[a + 1], positions[c + 2] - positions[a + 2]];
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    for (const at of [a, b, c]) {
      normals[at] += x;
      normals[at + 1] += y;
      normals[at + 2] += z;
    }
  }
  for (let n = 0; n < normals.length; n += 3) {
    const length = Math.sqrt(normals[n] ** 2 + normals[n + 1] ** 2 + normals[n + 2] ** 2) || 1;
    for (let k = 0; k < 3; k++) normals[n + k] /= length;
  }
}

function place(flesh: Flesh, joint: number, worlds: ArrayLike<number>): PlacedFlesh {
  const world = Float64Array.from({ length: 16 }, (_, k) => worlds[joint * 16 + k]);
  const inverse = new Float64Array(16);
  invertAffine(inverse, 0, world, 0);
  return new PlacedFlesh(flesh, joint, world, inverse);
}

/** Points a block of the grid has along each side. */
const BLOCK = 5;

/** Beyond so many softnesses a volume adds nothing to the sum that could be seen. */
const FAR = 8;

/** Distance to the soft union of volumes: −s·ln Σ e^(−d/s), which no order of the volumes changes. */
class Field {
  private readonly placed: readonly PlacedFlesh[];
  private readonly soft: number;
  private readonly block: number;
  private readonly blocks = new Map<number, readonly PlacedFlesh[]>();

  constructor(placed: readonly PlacedFlesh[], { soft, cell }: SkinChoices) {
    this.placed = placed;
    this.soft = soft / 3;
    this.block = cell * BLOCK;
  }

  /** The volumes that matter at a place: found once for a block of space. */
  near(x: number, y: number, z: number): readonly PlacedFlesh[] {
    const { block } = this;
    const bx = Math.floor(x / block);
    const by = Math.floor(y / block);
    const bz = Math.floor(z / block);
    const name = ((bx + 512) * 1024 + by + 512) * 1024 + bz + 512;
    let found = this.blocks.get(name);
    if (!found) {
      const [cx, cy, cz] = [(bx + 0.5) * block, (by + 0.5) * block, (bz + 0.5) * block];
      const reach = block * 0.87 + FAR * this.soft;
      found = this.placed.filter(({ middle: [mx, my, mz], reach: own }) => Math.hypot(cx - mx, cy - my, cz - mz) < own + reach);
      this.blocks.set(name, found);
    }
    return found;
  }

  at(x: number, y: number, z: number): number {
    const near = this.near(x, y, z);
    let sum = 0;
    for (let n = 0; n < near.length; n++) sum += Math.exp(-near[n].distance(x, y, z) / this.soft);
    return sum > 0 ? -this.soft * Math.log(Math.min(sum, 1e300)) : FAR * this.soft;
  }
}

function fill(placed: readonly PlacedFlesh[], field: Field, { cell }: SkinChoices): Grid {
  const low: [number, number, number] = [0, 0, 0];
  const size: [number, number, number] = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const least = Math.min(...placed.map(({ middle, reach }) => middle[k] - reach)) - 2 * cell;
    const most = Math.max(...placed.map(({ middle, reach }) => middle[k] + reach)) + 2 * cell;
    // On whole cells about the middle, so that what is alike on both sides comes out alike.
    low[k] = Math.floor(least / cell) * cell;
    size[k] = Math.ceil((most - low[k]) / cell) + 1;
  }
  const values = new Float32Array(size[0] * size[1] * size[2]);
  // Block by block: where the middle is further from the surface than the block reaches, all of it lies on one side.
  const reach = BLOCK * cell * 1.5;
  for (let bz = 0; bz < size[2]; bz += BLOCK)
    for (let by = 0; by < size[1]; by += BLOCK)
      for (let bx = 0; bx < size[0]; bx += BLOCK) {
        const middle = field.at(low[0] + (bx + BLOCK / 2) * cell, low[1] + (by + BLOCK / 2) * cell, low[2] + (bz + BLOCK / 2) * cell);
        const isApart = Math.abs(middle) > reach;
        for (let z = bz; z < Math.min(size[2], bz + BLOCK); z++)
          for (let y = by; y < Math.min(size[1], by + BLOCK); y++)
            for (let x = bx; x < Math.min(size[0], bx + BLOCK); x++)
              values[(z * size[1] + y) * size[0] + x] = isApart
                ? middle
                : field.at(low[0] + x * cell, low[1] + y * cell, low[2] + z * cell);
      }
  return { low, cell, size, values };
}

type Skin = Pick<BodySurface, "colours" | "joints" | "weights">;

/** Are two controls within two steps of each other: above, below, or side by side? */
function isNear(parents: ArrayLike<number>, a: number, b: number): boolean {
  const [pa, pb] = [parents[a], parents[b]];
  return pa === b || pb === a || (pa >= 0 && (pa === pb || parents[pa] === b)) || (pb >= 0 && parents[pb] === a);
}

/** The four controls a vertex moves with, and its colour: both fade over from volume to volume. */
function bind(skin: Skin, n: number, [x, y, z]: readonly number[], placed: readonly PlacedFlesh[], { soft, parents }: SkinChoices): void {
  const distances = placed.map((one) => one.distance(x, y, z));
  let nearest = 0;
  for (let i = 1; i < placed.length; i++) if (distances[i] < distances[nearest]) nearest = i;
  const own = placed[nearest].joint;
  const shares = new Map<number, number>();
  const colour = [0, 0, 0];
  let inked = 0;
  placed.forEach((one, i) => {
    const { flesh, joint } = one;
    const over = distances[i] - distances[nearest];
    const ink = Math.max(0, 1 - over / (soft * 0.22)) ** 2;
    if (ink > 0) {
      one.distance(x, y, z);
      const { bands } = flesh;
      const along = bands && flesh.b ? one.at * Math.hypot(...flesh.b.map((value, k) => value - flesh.a[k])) : 0;
      const tone = bands && (along / bands.length) % 1 > 0.55 ? bands.colour : flesh.colour;
      for (let k = 0; k < 3; k++) colour[k] += ink * tone[k];
      inked += ink;
    }
    if (joint !== own && !isNear(parents, own, joint)) return;
    const share = Math.max(0, 1 - over / (soft * 1.6)) ** 2;
    if (share > 0) shares.set(joint, Math.max(share, shares.get(joint) ?? 0));
  });
  for (let k = 0; k < 3; k++) skin.colours[n * 3 + k] = colour[k] / inked;
  const strongest = [...shares].sort((a, b) => b[1] - a[1]).slice(0, 4);
  const whole = strongest.reduce((sum, [, share]) => sum + share, 0);
  strongest.forEach(([joint, share], k) => {
    skin.joints[n * 4 + k] = joint;
    skin.weights[n * 4 + k] = share / whole;
  });
}
