import { channelKey, DEG, type Control, eulerFromMatrix, nearestEuler, quatFromEuler, quatMultiply } from "@kneader/core";
import { ferrymanRig } from "./rig.ts";

export type Vec = [number, number, number];
type Quat = [number, number, number, number];

const sub = (a: Vec, b: Vec): Vec => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const add = (a: Vec, b: Vec): Vec => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
const scale = (a: Vec, s: number): Vec => [a[0] * s, a[1] * s, a[2] * s];
const dot = (a: Vec, b: Vec) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vec, b: Vec): Vec => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const length = (a: Vec) => Math.hypot(...a);
const unit = (a: Vec): Vec => scale(a, 1 / (length(a) || 1));

function turn(q: Quat, v: Vec): Vec {
  const [x, y, z, w] = q;
  const t: Vec = scale(cross([x, y, z], v), 2);
  return add(add(v, scale(t, w)), cross([x, y, z], t));
}

/**
 * A figure being posed: values by channel, places in the world, and two-bone reaching for arms and legs
 * (law of cosines). The demo's shots are made with it.
 */
export class Puppet {
  private values = new Map<string, number>();
  private readonly controls = new Map(ferrymanRig.controls.map((control) => [control.id, control]));

  /** Set channels in short: `rx: 20` is rotate X 20°, `mz: 0.1` is move Z 0.1 m. */
  set(id: string, channels: Partial<Record<"mx" | "my" | "mz" | "rx" | "ry" | "rz", number>>): this {
    for (const [short, value] of Object.entries(channels)) {
      const channel = `${short[0] === "m" ? "move" : "rotate"}${short[1].toUpperCase()}`;
      this.values.set(channelKey(id, channel), value);
    }
    return this;
  }

  get(id: string, channel: string): number {
    return this.values.get(channelKey(id, channel)) ?? 0;
  }

  private control(id: string): Control {
    const control = this.controls.get(id);
    if (!control) throw new Error(`The ferryman has no control "${id}".`);
    return control;
  }

  private localTurn(id: string): Quat {
    const q: Quat = [0, 0, 0, 1];
    quatFromEuler(
      q,
      0,
      this.get(id, "rotateX") * DEG,
      this.get(id, "rotateY") * DEG,
      this.get(id, "rotateZ") * DEG,
      this.control(id).order,
    );
    return q;
  }

  /** World turn of a control. */
  worldTurn(id: string | null): Quat {
    if (id === null) return [0, 0, 0, 1];
    const q: Quat = [0, 0, 0, 1];
    quatMultiply(q, 0, this.worldTurn(this.control(id).parent), 0, this.localTurn(id), 0);
    return q;
  }

  /** World place of a control. */
  place(id: string): Vec {
    const { parent, rest } = this.control(id);
    const local: Vec = [rest[0] + this.get(id, "moveX"), rest[1] + this.get(id, "moveY"), rest[2] + this.get(id, "moveZ")];
    return parent === null ? local : add(this.place(parent), turn(this.worldTurn(parent), local));
  }

  /** World place of a point given in a control's own frame. */
  pointOf(id: string, local: Vec): Vec {
    return add(this.place(id), turn(this.worldTurn(id), local));
  }

  /**
   * Turn `upper` and `lower` so that `end` comes to `target` (world), the joint between them bending
   * toward `pole` (a direction in the world).
   */
  reach(upper: string, lower: string, end: string, target: Vec, pole: Vec): this {
    const above = this.worldTurn(this.control(upper).parent);
    const back: Quat = [-above[0], -above[1], -above[2], above[3]];
    const goal = turn(back, sub(target, this.place(upper)));
    const bend = turn(back, pole);
    const a = this.control(lower).rest as Vec;
    const b = this.control(end).rest as Vec;
    const [la, lb] = [length(a), length(b)];
    const far = Math.min(la + lb - 1e-4, Math.max(Math.abs(la - lb) + 1e-4, length(goal)));
    const along = unit(goal);
    const aside = unit(sub(bend, scale(along, dot(bend, along))));
    const cosine = (la * la + far * far - lb * lb) / (2 * la * far);
    const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
    const upperWay = add(scale(along, cosine), scale(aside, sine));
    const lowerWay = unit(sub(scale(along, far), scale(upperWay, la)));
    const hinge = unit(cross(along, aside));
    // Knees bend forward at rest, elbows backward.
    const restHinge: Vec = unit(cross(unit(a), [0, 0, lower.startsWith("shin") ? 1 : -1]));
    const upperTurn = frameTurn(unit(a), restHinge, upperWay, hinge);
    this.writeTurn(upper, upperTurn);
    const inUpper = (v: Vec): Vec =>
      [0, 1, 2].map((c) => upperTurn[c * 3] * v[0] + upperTurn[c * 3 + 1] * v[1] + upperTurn[c * 3 + 2] * v[2]) as Vec;
    this.writeTurn(lower, frameTurn(unit(b), restHinge, inUpper(lowerWay), inUpper(hinge)));
    return this;
  }

  /** Turn a control so that its world turn is a heading (about Y) and then a pitch (about X), degrees. */
  level(id: string, heading: number, pitch: number): this {
    const above = this.worldTurn(this.control(id).parent);
    const want: Quat = [0, 0, 0, 1];
    quatFromEuler(want, 0, pitch * DEG, heading * DEG, 0, "YXZ");
    const q: Quat = [0, 0, 0, 1];
    quatMultiply(q, 0, [-above[0], -above[1], -above[2], above[3]], 0, want, 0);
    const columns = (
      [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ] as Vec[]
    ).flatMap((axis) => turn(q, axis));
    this.writeTurn(id, columns);
    return this;
  }

  private writeTurn(id: string, columns: number[]): void {
    const { order } = this.control(id);
    const euler = [0, 0, 0];
    eulerFromMatrix(euler, 0, columns, 0, 3, order);
    const near = [this.get(id, "rotateX"), this.get(id, "rotateY"), this.get(id, "rotateZ")];
    const [rx, ry, rz] = nearestEuler(
      euler.map((angle) => angle / DEG),
      near,
      order,
    );
    this.set(id, { rx, ry, rz });
  }

  /** All values set so far. */
  snapshot(): Record<string, number> {
    return Object.fromEntries(this.values);
  }
}

/** The turn (columns) that takes direction a and hinge h to direction a2 and hinge h2. */
function frameTurn(a: Vec, h: Vec, a2: Vec, h2: Vec): number[] {
  const from = basis(a, h);
  const to = basis(a2, h2);
  const columns: number[] = [];
  for (let c = 0; c < 3; c++)
    for (let r = 0; r < 3; r++) columns.push(to[0][r] * from[0][c] + to[1][r] * from[1][c] + to[2][r] * from[2][c]);
  return columns;
}

function basis(a: Vec, h: Vec): [Vec, Vec, Vec] {
  const x = unit(a);
  const y = unit(sub(h, scale(x, dot(h, x))));
  return [x, y, cross(x, y)];
}
