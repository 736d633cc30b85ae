import { catalogue, type Clip, liftKeys, operationById, type Scope, type Shot, shippedRecipes, WHOLE_FIGURE } from "@kneader/core";

/*
 * On what the pictures in the help are made: a demo shot, what is picked of it, and settings where the first ones
 * would show little. The picture is worked out by the operation itself.
 */

interface Example {
  /** Id of a demo shot. */
  readonly shot: string;
  readonly scope?: Partial<Scope>;
  readonly settings?: Readonly<Record<string, unknown>>;
  /** What was done before, by operation id, so that there is something to show. */
  readonly after?: readonly (readonly [string, Readonly<Record<string, unknown>>?])[];
}

const HOP = "demo-hop-aboard";
const WALK = "demo-half-a-walk";
const CAPTURED = "demo-captured-signal";
const WAITING = "demo-waiting";

const head: Partial<Scope> = { controls: ["head"] };
const tail: Partial<Scope> = { controls: ["tail-1", "tail-2", "tail-3", "tail-4"] };
const flowing = ["convert-blocking", { to: "curves" }] as const;

const byGroup: Readonly<Record<string, Example>> = {
  Clean: { shot: CAPTURED, scope: head },
  Values: { shot: HOP, scope: { controls: ["chest"] }, after: [flowing] },
  Timing: { shot: HOP, after: [flowing] },
  Cycles: { shot: WALK },
  Poses: { shot: HOP, after: [flowing] },
  Passes: { shot: HOP, scope: tail, after: [flowing] },
  Physics: { shot: HOP, after: [flowing] },
  Performance: { shot: CAPTURED },
  Tune: { shot: WALK },
  Recipes: { shot: CAPTURED },
};

const special: Readonly<Record<string, Partial<Example>>> = {
  "run-recipe": { settings: { recipe: shippedRecipes[0] } },
  tune: { settings: { steps: 40, closeness: 1 } },
  despike: { scope: {}, settings: { rotation: 0.5, threshold: 3 } },
  "smooth-arc": { shot: HOP, after: [flowing], scope: { controls: ["forearm-right", "hand-right"] }, settings: { distance: 0.06 } },
  "convert-blocking": { shot: HOP, after: [] },
  "set-tangents": { shot: HOP, scope: { controls: ["chest"] }, after: [flowing], settings: { kind: "flat" } },
  "shift-values": { settings: { rotation: 12 } },
  "match-ends": { scope: { controls: ["chest"], range: { start: 11, end: 21 } } },
  "scale-rig": { shot: HOP, after: [flowing], scope: {} },
  "set-gap": { settings: { from: 11, to: 16, gap: 12 } },
  "set-timing": { settings: { list: "6 4 3 2 3 · hold 8 · 4" } },
  "move-pose": { settings: { at: 16, to: 19 } },
  "insert-hold": { settings: { at: 26, frames: 10 } },
  "insert-frames": { settings: { at: 16, frames: 8 } },
  "even-gaps": { settings: { ease: 80 } },
  stagger: { scope: tail, settings: { frames: 3 } },
  "snap-frames": { settings: { every: 4 } },
  "time-warp": { settings: { easeIn: 80, easeOut: 80 } },
  stepping: { settings: { pattern: "4" } },
  "switch-space": { shot: "demo-hand-over", after: [], scope: { controls: ["lantern"] }, settings: { space: "*world", frame: 45 } },
  "paste-pose": { settings: { from: 11, to: 31 } },
  "swap-poses": { settings: { one: 11, other: 31 } },
  "remove-poses": { settings: { frames: [21] } },
  tremor: { shot: WAITING, after: [], scope: head, settings: { rotate: 6 } },
  "smooth-pass": { shot: CAPTURED, after: [], scope: head, settings: { reach: 4 } },
};

/** An example ready to be run: the shot before, and what is done to it. */
interface Prepared {
  readonly shot: Shot;
  readonly scope: Scope;
  readonly settings: Record<string, unknown>;
}

/** Operations that leave the motion as it is, or make something else: there is no before and after to see. */
const unseen = new Set([
  "record",
  "save-action",
  "apply-action",
  "play-band",
  "play-to-keys",
  "open-action",
  "close-action",
  "own-action",
  "lock-ends",
  "plant",
  "carrier",
  "follow",
  "aim",
  "reach",
  "match-reach",
  "bake-down",
  "bake-passes",
  "bake-loop",
  "untwist",
  "reduce",
  "key-missing",
]);

/** Does the help of an operation show what it does in a picture? */
export function hasPicture(id: string): boolean {
  return !unseen.has(id);
}

/** The shot of an example and the settings with which it is shown. `shotOf` makes a demo shot, `run` does an operation. */
export async function prepareExample(
  id: string,
  shotOf: (id: string) => Promise<Shot | null>,
  run: (operation: string, shot: Shot, scope: Scope, settings: Record<string, unknown>) => Promise<Shot>,
): Promise<Prepared | null> {
  const operation = catalogue.find((one) => one.id === id);
  if (!operation) return null;
  const example: Example = { ...byGroup[operation.group], ...special[id] };
  let shot = await shotOf(example.shot);
  if (!shot) return null;
  const scope: Scope = { ...WHOLE_FIGURE, ...example.scope };
  for (const [before, settings = {}] of example.after ?? []) shot = await run(before, shot, WHOLE_FIGURE, settings);
  const copiedKeys: Clip | null = id === "paste-keys" ? liftKeys(shot, { ...scope, range: { start: 1, end: 21 } }) : null;
  const at = { shot, scope, frame: id === "paste-keys" ? shot.range.end : shot.range.start, copiedPose: null, copiedKeys, poseShare: 0.5 };
  return { shot, scope, settings: { ...operationById(id).situation?.(at), ...example.settings } };
}
