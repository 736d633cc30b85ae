import { KneaderError } from "../errors.ts";
import type { Rig } from "../model/rig.ts";
import type { Constraint, Pass, Shot } from "../model/shot.ts";
import { steppingPass, steppingSettings } from "../passes/stepping.ts";
import { partsOf, tiesOf } from "./ledControls.ts";

/** What of a constraint is one step: all it leads, or one control of it. */
interface Part {
  readonly constraint: Constraint;
  /** Ids of the controls it puts elsewhere. */
  readonly writes: readonly string[];
}

/**
 * What has to be worked out before what: a step puts a control under the one above it, or applies a constraint. What
 * reads a control waits for all that writes it; a constraint that writes several controls works on all of them as
 * they stand before it; constraints on one control come in the order of the list.
 */
export interface Graph {
  readonly parts: readonly Part[];
  /** Names of the steps: first each control of the rig, then each part of a constraint. */
  readonly names: readonly string[];
  /** By step: the steps it waits for. */
  readonly needs: readonly (readonly number[])[];
  /** By control: the last steps after which it is where it will be. */
  readonly settles: readonly (readonly number[])[];
}

interface KnownGraph {
  readonly given: readonly Constraint[];
  readonly also: readonly (number | undefined)[];
  readonly graph: Graph;
}

const known = new WeakMap<Rig, KnownGraph>();

/** The graph of a rig, kept until it is asked for with other constraints: a shot that is dragged is laid out again and again. */
export function keptGraph(rig: Rig, given: readonly Constraint[], also: readonly (number | undefined)[]): Graph {
  const last = known.get(rig);
  if (last && isSameList(last.given, given) && isSameList(last.also, also)) return last.graph;
  const graph = graphOf(rig, given, also);
  known.set(rig, { given, also, graph });
  return graph;
}

function isSameList(a: readonly unknown[], b: readonly unknown[]): boolean {
  return a.length === b.length && a.every((one, n) => one === b[n]);
}

/** `also` names controls that wait for others besides: by index, the index of the one they need. */
export function graphOf(rig: Rig, given: readonly Constraint[], also: readonly (number | undefined)[] = []): Graph {
  const index = new Map(rig.controls.map((control, i) => [control.id, i]));
  const known = (ids: readonly string[]) => ids.map((id) => index.get(id)).filter((i): i is number => i !== undefined);
  const present = given.filter((constraint) => {
    const { reads, writes } = tiesOf(constraint);
    return constraint.on && writes.length > 0 && [...reads, ...writes].every((id) => index.has(id));
  });
  const parts = present.flatMap((constraint) => partsOf(constraint).map(({ writes }) => ({ constraint, writes })));
  const first = rig.controls.length;
  const ties = parts.map(({ constraint, writes }) => ({ reads: known(tiesOf(constraint).reads), writes: known(writes) }));
  const writers = rig.controls.map((_, i) => ties.flatMap(({ writes }, c) => (writes.includes(i) ? [c] : [])));
  const settles = rig.controls.map((_, i) => [i, ...writers[i].map((c) => first + c)]);
  const needs: number[][] = rig.controls.map(({ parent }, i) => {
    const needed = also[i] === undefined ? [] : settles[also[i] as number];
    if (parent === null) return [...needed];
    const p = index.get(parent) as number;
    // What is written together with the control above waits for it as it stands before that.
    return [p, ...writers[p].filter((c) => !ties[c].writes.includes(i)).map((c) => first + c), ...needed];
  });
  ties.forEach(({ reads, writes }, c) => {
    const earlier = writes.flatMap((i) => writers[i].filter((other) => other < c).map((other) => first + other));
    needs.push([...writes, ...earlier, ...reads.flatMap((i) => (writes.includes(i) ? [i] : settles[i]))]);
  });
  const names = [...rig.controls.map(({ name }) => name), ...parts.map(({ constraint }) => constraint.name)];
  return { parts, names, needs, settles };
}

/** The steps in an order in which each comes after what it needs: all, or those for some controls. A circle is cut somewhere. */
export function orderOf({ needs, settles }: Graph, controls: readonly number[]): number[] {
  const order: number[] = [];
  const seen = new Uint8Array(needs.length);
  const visit = (step: number): void => {
    if (seen[step] !== 0) return;
    seen[step] = 1;
    for (const need of needs[step]) visit(need);
    order.push(step);
  };
  for (const control of controls) for (const step of settles[control]) visit(step);
  return order;
}

/** Steps that wait for one another in a circle, or null. */
function circleOf({ needs }: Graph): number[] | null {
  const state = new Uint8Array(needs.length);
  for (let start = 0; start < needs.length; start++) {
    if (state[start] !== 0) continue;
    const path = [{ step: start, left: [...needs[start]] }];
    state[start] = 1;
    while (path.length > 0) {
      const top = path[path.length - 1];
      const next = top.left.pop();
      if (next === undefined) {
        state[top.step] = 2;
        path.pop();
      } else if (state[next] === 1) return path.slice(path.findIndex(({ step }) => step === next)).map(({ step }) => step);
      else if (state[next] === 0) {
        state[next] = 1;
        path.push({ step: next, left: [...needs[next]] });
      }
    }
  }
  return null;
}

/** By control, the camera it rides along with while a pass holds a frame. One that hangs on it itself never does. */
function ridersOf(rig: Rig, passes: readonly Pass[]): (number | undefined)[] {
  const riders: (number | undefined)[] = [];
  const index = new Map(rig.controls.map(({ id }, i) => [id, i]));
  for (const pass of passes) {
    const rides = pass.kind === steppingPass.id ? steppingSettings(pass).rides : null;
    const [control, camera] = [index.get(rides?.control ?? ""), index.get(rides?.camera ?? "")];
    if (control === undefined || camera === undefined) continue;
    let above: number | undefined = camera;
    while (above !== undefined && above !== control) above = index.get(rig.controls[above].parent ?? "");
    if (above === undefined) riders[control] = camera;
  }
  return riders;
}

const nameOf = (rig: Rig, id: string) => rig.controls.find((control) => control.id === id)?.name ?? id;

/**
 * Refuse controls that would have to wait for themselves: by what they hang on, by constraints whether on or not, or as
 * passes let them ride along with a camera. Errors: `cycle`, with the names of all in the circle.
 */
export function refuseCircles({ rig, constraints, passes }: Pick<Shot, "rig" | "constraints" | "passes">): void {
  const graph = graphOf(
    rig,
    constraints.map((constraint) => ({ ...constraint, on: true })),
    ridersOf(rig, passes),
  );
  const circle = circleOf(graph);
  if (!circle) return;
  // A step of a constraint is told by the control it leads.
  const first = rig.controls.length;
  const led = circle.map((step) => (step < first ? graph.names[step] : nameOf(rig, graph.parts[step - first].writes[0])));
  const names = led.filter((name, i) => name !== led[i - 1]);
  if (names[names.length - 1] !== names[0]) names.push(names[0]);
  const told = names.map((name) => `"${name}"`);
  throw new KneaderError("cycle", `${told.join(" moves with ")}: a circle.`, "Choose a target that does not hang on what follows it.");
}
