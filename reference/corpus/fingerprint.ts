import { allCurves, type Curve, layerCurves, makePlayer, type Shot } from "@kneader/core";

/** A running mark of what was put in, to the last bit (FNV-1a, Fowler, Noll and Vo; two of them side by side). */
export class Mark {
  private a = 0x811c9dc5;
  private b = 0x01234567;

  bytes(bytes: Uint8Array): this {
    for (const byte of bytes) {
      this.a = Math.imul(this.a ^ byte, 0x01000193);
      this.b = Math.imul(this.b ^ byte, 0x01000193) + 0x9e3779b9;
    }
    return this;
  }

  text(text: string): this {
    return this.bytes(new TextEncoder().encode(`${text}\0`));
  }

  numbers(numbers: ArrayLike<number>): this {
    // Zero has two signs, and no one can see which.
    return this.bytes(new Uint8Array(Float64Array.from(numbers, (number) => number + 0).buffer));
  }

  toString(): string {
    return [this.a, this.b].map((half) => (half >>> 0).toString(16).padStart(8, "0")).join("");
  }
}

function putCurve(mark: Mark, curve: Curve): void {
  for (const column of [curve.times, curve.values, curve.slopeIn, curve.slopeOut, curve.weightIn, curve.weightOut]) mark.numbers(column);
  mark.numbers(curve.kindIn).numbers(curve.kindOut);
  mark.text(JSON.stringify([curve.runIn, curve.runOut]));
}

/** All that is kept of a shot's motion and what it looks like; ids that chance makes are left out. */
export function markShot(shot: Shot): Mark {
  const mark = new Mark();
  const { rate, range, cyclic, unitMetres, set, locked, sets, poseMarks } = shot;
  mark.text(JSON.stringify([rate, range, cyclic, unitMetres, set, locked, sets, poseMarks]));
  const layers = ["base", ...shot.passes.map(({ id }) => id)];
  for (const layer of layers)
    for (const [key, curve] of Object.entries(layerCurves(shot, layer)).sort(([one], [other]) => (one < other ? -1 : 1)))
      putCurve(mark.text(key), curve);
  // The action a pass plays, and the row it shares, have names by chance.
  const known = (key: string, value: unknown) =>
    ["action", "row"].includes(key) && typeof value === "string" && value !== "" ? "one" : value;
  for (const { id, curves, weight, ...pass } of shot.passes) putCurve(mark.text(JSON.stringify(pass, known)), weight);
  for (const version of shot.versions)
    for (const { id } of shot.passes) {
      const state = version.passes[id];
      if (state) putCurve(mark.text(`${version.name} ${state.on} ${state.solo}`), state.weight);
    }
  mark.text(String([...allCurves(shot)].length));
  const player = makePlayer(shot);
  for (const share of [-0.2, 0, 0.31, 0.5, 0.77, 1, 1.3]) {
    const frame = range.start + share * (range.end - range.start);
    player.readValues(frame);
    mark.numbers(player.values);
    player.pose(frame);
    mark.numbers(player.worlds).numbers(player.turns);
  }
  return mark;
}
