/** A soft volume on a control, in the control's own frame: a ball with three radii at `a`, or a limb from `a` to `b`. */
export interface Flesh {
  readonly control: string;
  readonly a: readonly [number, number, number];
  readonly b?: readonly [number, number, number];
  /** Radii: at a and b of a limb, along X, Y and Z of a ball. */
  readonly size: readonly number[];
  /** Red, green and blue, 0..1, linear. */
  readonly colour: readonly [number, number, number];
  /** Bands across a limb, by which a side is told: their colour, and how long one with its gap is. */
  readonly bands?: { readonly colour: readonly [number, number, number]; readonly length: number };
}

/** Flesh in the world, ready to be measured against. */
export class PlacedFlesh {
  readonly flesh: Flesh;
  /** Number of its control. */
  readonly joint: number;
  /** Middle and radius of a ball around it. */
  readonly middle: readonly [number, number, number];
  readonly reach: number;
  private readonly inverse: Float64Array;
  private readonly along: readonly [number, number, number];
  private readonly square: number;
  /** Along the limb at the last place that was measured, 0..1. */
  at = 0;

  constructor(flesh: Flesh, joint: number, world: ArrayLike<number>, inverse: Float64Array) {
    this.flesh = flesh;
    this.joint = joint;
    this.inverse = inverse;
    const { a, b = a, size } = flesh;
    this.along = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    this.square = this.along[0] ** 2 + this.along[1] ** 2 + this.along[2] ** 2;
    const m = a.map((value, k) => (value + b[k]) / 2);
    this.middle = [0, 1, 2].map((r) => world[r] * m[0] + world[4 + r] * m[1] + world[8 + r] * m[2] + world[12 + r]) as [
      number,
      number,
      number,
    ];
    this.reach = Math.sqrt(this.square) / 2 + Math.max(...size);
  }

  /**
   * How far a place of the world is outside of it (below 0: inside). Controls are taken not to be scaled. Written out without
   * lists: this is asked a quarter of a million times when a figure is first drawn, mostly before the engine has made it quick.
   */
  distance(x: number, y: number, z: number): number {
    const i = this.inverse;
    const { a, size } = this.flesh;
    const px = i[0] * x + i[4] * y + i[8] * z + i[12] - a[0];
    const py = i[1] * x + i[5] * y + i[9] * z + i[13] - a[1];
    const pz = i[2] * x + i[6] * y + i[10] * z + i[14] - a[2];
    if (this.flesh.b === undefined) {
      // Of an ellipsoid there is no short exact distance; this one is exact on its surface and near it.
      const rx = size[0];
      const ry = size[1];
      const rz = size[2];
      const ux = px / rx;
      const uy = py / ry;
      const uz = pz / rz;
      const k0 = Math.sqrt(ux * ux + uy * uy + uz * uz);
      const k1 = Math.sqrt((ux / rx) ** 2 + (uy / ry) ** 2 + (uz / rz) ** 2);
      return k1 < 1e-9 ? -Math.min(rx, ry, rz) : (k0 * (k0 - 1)) / k1;
    }
    const dx = this.along[0];
    const dy = this.along[1];
    const dz = this.along[2];
    this.at = this.square > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy + pz * dz) / this.square)) : 0;
    const radius = size[0] + (size[1] - size[0]) * this.at;
    const ox = px - dx * this.at;
    const oy = py - dy * this.at;
    const oz = pz - dz * this.at;
    return Math.sqrt(ox * ox + oy * oy + oz * oz) - radius;
  }
}
