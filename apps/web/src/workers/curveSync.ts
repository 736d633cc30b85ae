import { type Curve, mapCurves, type Shot } from "@kneader/core";
import { sameIdentity } from "./sameIdentity.ts";

/** A shot on its way to or from the worker: curves the other side knows go as their number only, and what it has itself not at all. */
export interface PackedShot {
  readonly shot: unknown;
  readonly fresh: readonly (readonly [number, Curve])[];
  /** Fields that are as in the shot the other side told of. */
  readonly kept: readonly string[];
}

/** A shot's fields with curves in them, without any. */
const NO_CURVES = { base: {}, passes: [], constraints: [], actions: [], versions: [] } satisfies Partial<Shot>;

function fieldsOf<Fields extends Partial<Shot>>(fields: Fields, isMeant: (field: keyof Shot) => boolean): Partial<Fields> {
  return Object.fromEntries(Object.entries(fields).filter(([field]) => isMeant(field as keyof Shot))) as Partial<Fields>;
}

/**
 * One side's view of the curves both sides know. Each side numbers the curves it makes itself (the page
 * upward, the worker downward), so numbers never meet.
 */
export class CurveSync {
  private readonly numbers = new WeakMap<Curve, number>();
  private readonly curves = new Map<number, Curve>();
  private readonly step: 1 | -1;
  private next: number;

  constructor(side: "page" | "worker") {
    this.step = side === "page" ? 1 : -1;
    this.next = this.step;
  }

  /** `told` is the shot as the other side has it: what is the very same there stays at home. */
  pack(shot: Shot, told: Shot | null = null): PackedShot {
    const fresh: [number, Curve][] = [];
    const kept = told ? (Object.keys(shot) as (keyof Shot)[]).filter((field) => shot[field] === told[field]) : [];
    const packed = mapCurves({ ...shot, ...fieldsOf(NO_CURVES, (field) => kept.includes(field)) }, (curve) => {
      let number = this.numbers.get(curve);
      if (number === undefined) {
        number = this.next;
        this.next += this.step;
        this.know(number, curve);
        fresh.push([number, curve]);
      }
      return number as unknown as Curve;
    });
    return { shot: fieldsOf(packed, (field) => !kept.includes(field)), fresh, kept };
  }

  /** The shot; what of it is as in `like` is the very same (see `sameIdentity`), and what was kept is taken from there. */
  unpack({ shot, fresh, kept }: PackedShot, like: Shot | null = null): Shot {
    for (const [number, curve] of fresh) this.know(number, curve);
    const unpacked = mapCurves({ ...NO_CURVES, ...(shot as Shot) }, (number) => {
      const curve = this.curves.get(number as unknown as number);
      if (!curve) throw new Error(`Curve ${number} is not known on this side.`);
      return curve;
    });
    if (!like && kept.length > 0) throw new Error(`What was kept (${kept.join(", ")}) is not known on this side.`);
    if (!like) return unpacked;
    return sameIdentity(like, { ...unpacked, ...fieldsOf(like, (field) => kept.includes(field)) });
  }

  private know(number: number, curve: Curve): void {
    this.numbers.set(curve, number);
    this.curves.set(number, curve);
  }

  /** Forget curves; both sides must do so together. */
  forget(numbers: readonly number[]): void {
    for (const number of numbers) {
      const curve = this.curves.get(number);
      if (curve) this.numbers.delete(curve);
      this.curves.delete(number);
    }
  }

  /** How many curves are known. */
  get size(): number {
    return this.curves.size;
  }

  /** Numbers of known curves that none of these shots uses. */
  unused(shots: readonly Shot[]): number[] {
    const used = new Set<number>();
    for (const shot of shots)
      mapCurves(shot, (curve) => {
        const number = this.numbers.get(curve);
        if (number !== undefined) used.add(number);
        return curve;
      });
    return [...this.curves.keys()].filter((number) => !used.has(number));
  }
}
