import { controlById, type Rig } from "../../model/rig.ts";

/** The ends of a figure: controls that no other hangs on, fingers and props left out. */
export function endsOf(rig: Rig): string[] {
  const own = rig.controls.filter(({ role, part }) => role === "figure" && part !== "hands");
  const parents = new Set(own.map((control) => control.parent));
  return own.filter((control) => !parents.has(control.id)).map((control) => control.id);
}

/** The controls from an end up to the top, with the way at rest from each to the end. */
export function waysTo(rig: Rig, end: string): { id: string; way: number }[] {
  const ways: { id: string; way: number }[] = [];
  let way = 0;
  for (let control = controlById(rig, end); control; control = control.parent === null ? undefined : controlById(rig, control.parent)) {
    ways.push({ id: control.id, way });
    way += Math.hypot(...control.rest);
  }
  return ways;
}

/** For each control the longest way at rest from it to an end below it; controls above no end are left out. */
export function leversOf(rig: Rig, ends: readonly string[]): Map<string, number> {
  const levers = new Map<string, number>();
  for (const end of ends) for (const { id, way } of waysTo(rig, end)) levers.set(id, Math.max(levers.get(id) ?? 0, way));
  return levers;
}
