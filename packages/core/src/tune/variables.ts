/** The columns of a curve that a variable may be added to. */
export const movedColumns = ["values", "slopeIn", "slopeOut", "weightIn", "weightOut", "times"] as const;
export type MovedColumn = (typeof movedColumns)[number];

/**
 * The numbers of a search, in columns: a long shot has millions. Number v is times its scale added to places
 * `from[v]` to `from[v + 1]`.
 */
export interface Variables {
  readonly length: number;
  /** Number of the curve. */
  readonly curve: Int32Array;
  /** The key it belongs to; of several that go together the first. */
  readonly key: Int32Array;
  /** What one of it adds there. One of any variable moves the curve by about as much as a degree does. */
  readonly scale: Float64Array;
  /** How far it may go by itself, whatever the leash. */
  readonly least: Float64Array;
  readonly most: Float64Array;
  readonly from: Int32Array;
  /** By place: the column, as its number in `movedColumns`, and the key. */
  readonly placeColumn: Uint8Array;
  readonly placeKey: Int32Array;
}

/** Gathers variables one after the other. */
export class VariableList {
  private readonly curve: number[] = [];
  private readonly key: number[] = [];
  private readonly scale: number[] = [];
  private readonly least: number[] = [];
  private readonly most: number[] = [];
  private readonly from: number[] = [];
  private readonly placeColumn: number[] = [];
  private readonly placeKey: number[] = [];

  /** One more, added to a column of a key of a curve. */
  add(curve: number, key: number, column: MovedColumn, scale: number, least = Number.NEGATIVE_INFINITY, most = Number.POSITIVE_INFINITY) {
    this.from.push(this.placeKey.length);
    this.curve.push(curve);
    this.key.push(key);
    this.scale.push(scale);
    this.least.push(least);
    this.most.push(most);
    this.also(column, key);
  }

  /** The last one is added here too. */
  also(column: MovedColumn, key: number): void {
    this.placeColumn.push(movedColumns.indexOf(column));
    this.placeKey.push(key);
  }

  inColumns(): Variables {
    const ends = this.from.concat(this.placeKey.length);
    return {
      length: this.curve.length,
      curve: new Int32Array(this.curve),
      key: new Int32Array(this.key),
      scale: new Float64Array(this.scale),
      least: new Float64Array(this.least),
      most: new Float64Array(this.most),
      from: new Int32Array(ends),
      placeColumn: new Uint8Array(this.placeColumn),
      placeKey: new Int32Array(this.placeKey),
    };
  }
}

/** The column a variable is added to; of several the first. */
export const columnOf = (variables: Variables, v: number): MovedColumn => movedColumns[variables.placeColumn[variables.from[v]]];
