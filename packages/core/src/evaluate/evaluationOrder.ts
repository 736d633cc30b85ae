import type { Shot } from "../model/shot.ts";

/**
 * Controls in an order in which parents, followed targets and (by control) cameras they ride along with come first;
 * all of them, or `only` some and what these need.
 */
export function evaluationOrder(
  shot: Shot,
  free = false,
  attached: readonly ({ readonly camera: number } | undefined)[] = [],
  only?: readonly string[],
): number[] {
  const controls = shot.rig.controls;
  const index = new Map(controls.map((control, i) => [control.id, i]));
  const needs = controls.map((control, i) => {
    const list = control.parent === null ? [] : [index.get(control.parent)];
    if (!free) for (const f of shot.follows) if (f.on && f.control === control.id) list.push(index.get(f.target));
    list.push(attached[i]?.camera);
    return list.filter((n): n is number => n !== undefined);
  });
  const order: number[] = [];
  const state = new Uint8Array(controls.length);
  const visit = (i: number): void => {
    if (state[i] !== 0) return;
    state[i] = 1;
    for (const need of needs[i]) visit(need);
    order.push(i);
  };
  for (let i = 0; i < controls.length; i++) if (!only || only.includes(controls[i].id)) visit(i);
  return order;
}
