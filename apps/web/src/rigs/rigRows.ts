import { type Control, type MirrorProof, type Rig, type Shot, sidesOf, sizeOf } from "@kneader/core";
import { restPlaces } from "./restPlaces.ts";

/** How far a control may land beside its reflection (share of the figure's size), and be turned (degrees), and still be fine. */
const FINE = 5e-4;
const FINE_TURN = 0.05;

type Side = "left" | "right" | "middle";

/** A line of the rig page. */
export interface RigRow {
  readonly control: Control;
  /** How deep it hangs. */
  readonly depth: number;
  readonly partner: Control | null;
  readonly side: Side;
  readonly how: "mirrored" | "left out" | "never";
  readonly proof: MirrorProof | null;
  /** What is wrong with it, in words; null when nothing is. */
  readonly problem: string | null;
}

export function rigRows({ rig }: Pick<Shot, "rig">, proofs: ReadonlyMap<string, MirrorProof>, lonely: ReadonlySet<string>): RigRow[] {
  const byId = new Map(rig.controls.map((control) => [control.id, control]));
  const depths = new Map<string, number>();
  const sides = sidesOfControls(rig);
  const fine = FINE * sizeOf(rig);
  return hanging(rig).map((control) => {
    const depth = control.parent === null ? 0 : (depths.get(control.parent) ?? 0) + 1;
    depths.set(control.id, depth);
    const proof = proofs.get(control.id) ?? null;
    const how = control.partner === null ? "never" : control.mirror === "left out" ? "left out" : "mirrored";
    const isOff = proof !== null && (proof.distance > fine || proof.turn > FINE_TURN);
    const problem = lonely.has(control.id) ? "names a side, but has no partner" : isOff ? "lands beside its reflection" : null;
    return {
      control,
      depth,
      partner: control.partner === null ? null : (byId.get(control.partner) ?? null),
      side: sides.get(control.id) ?? "middle",
      how,
      proof,
      problem,
    };
  });
}

/** Controls as they hang on one another: each followed by all that hangs on it. */
function hanging({ controls }: Rig): Control[] {
  const below = new Map<string | null, Control[]>();
  for (const control of controls) below.set(control.parent, [...(below.get(control.parent) ?? []), control]);
  const listed: Control[] = [];
  const left = [...(below.get(null) ?? [])].reverse();
  for (let next = left.pop(); next; next = left.pop()) {
    listed.push(next);
    left.push(...[...(below.get(next.id) ?? [])].reverse());
  }
  return listed;
}

/** Which side each control with a partner rests on. Left is where the side axis grows, as a figure that looks along Z has it. */
function sidesOfControls(rig: Rig): Map<string, Side> {
  const { axis, at } = sidesOf(rig);
  const k = ["x", "y", "z"].indexOf(axis);
  const places = restPlaces(rig);
  return new Map(
    rig.controls.map(({ id, partner }, i) => {
      if (partner === null || partner === id) return [id, "middle"];
      const other = places[rig.controls.findIndex((one) => one.id === partner)] ?? places[i];
      const off = places[i][k] - at || (places[i][k] - other[k]) / 2;
      return [id, off > 0 ? "left" : "right"];
    }),
  );
}
