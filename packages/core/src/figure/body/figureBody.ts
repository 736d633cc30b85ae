/**
 * A body that is drawn for a rig, and written into files that hold meshes: surfaces bound to controls. Lengths in scene
 * units; places and normals as they are where the controls stood when it was bound, which need not be the rest pose.
 */
export interface FigureBody {
  /** Ids of the controls that `joints` counts. */
  readonly controls: readonly string[];
  /** For each of them the matrix, by columns, from the world where it was bound into its own space. */
  readonly inverses: Float32Array;
  readonly surfaces: readonly BodySurface[];
}

/** Triangles of one kind. Three numbers a vertex unless said otherwise. */
export interface BodySurface {
  readonly name: string;
  /** It gives light of its own. */
  readonly isLight: boolean;
  /** It belongs to a thing the figure handles. */
  readonly isProp: boolean;
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  /** Red, green and blue of each vertex, 0..1, linear. */
  readonly colours: Float32Array;
  /** Four controls a vertex, the strongest first. */
  readonly joints: Uint16Array;
  /** Their shares, which sum to 1. */
  readonly weights: Float32Array;
  /** Three vertices a triangle, counter-clockwise from outside. */
  readonly index: Uint32Array;
}
