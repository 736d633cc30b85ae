import { KneaderError } from "../errors.ts";
import { type ChannelKey, channelTitle } from "../model/rig.ts";
import { BASE, layerCurves, layerOf, type Shot } from "../model/shot.ts";
import type { HandOperation } from "./hand/handOperation.ts";
import type { Context, Operation, Outcome, Scope } from "./operation.ts";
import { checkResult, checkScope } from "./shared/checkScope.ts";
import { sayRounds } from "./shared/sayRounds.ts";
import { sayTies } from "./shared/sayTies.ts";
import { ownControl } from "../evaluate/ownControl.ts";
import { asBefore } from "./shared/asBefore.ts";
import { countChanged, curvesInScope, isWhole } from "./shared/scope.ts";

/** What was found out before an operation ran. */
interface Begun {
  readonly locked: readonly ChannelKey[];
}

function begin(operation: Operation, shot: Shot, scope: Scope, settings: unknown): Begun {
  checkScope(shot, scope, operation.title);
  if (operation.keepsShot?.(settings) || operation.named || shot.locked.length === 0) return { locked: [] };
  const locked = new Set(shot.locked);
  const meant = curvesInScope(shot, scope);
  const left = meant.filter((key) => locked.has(key));
  if (left.length > 0 && left.length === meant.length)
    throw new KneaderError("locked", `${operation.title}: ${sayChannels(shot, left)} locked.`, "Unlock what should change.");
  return { locked: left };
}

function finish(operation: Operation, shot: Shot, scope: Scope, settings: unknown, { locked }: Begun, outcome: Outcome): Outcome {
  const ties = operation.movesPoses ? sayTies(shot, changedKeys(shot, outcome.shot), outcome.shot) : [];
  if (operation.keepsShot?.(settings))
    return { ...outcome, report: { ...outcome.report, warnings: [...outcome.report.warnings, ...ties] } };
  checkResult(shot, outcome.shot, operation.title);
  const changed = operation.stacks ? [] : shot.locked.filter((key) => isChanged(shot, outcome.shot, key));
  if (changed.length > 0)
    throw new KneaderError(
      "locked",
      `${operation.title} would change what is locked: ${sayChannels(shot, changed)} locked.`,
      "Unlock what should change.",
    );
  const { report } = outcome;
  const left = locked.length === 0 ? [] : [`${sayChannels(shot, locked)} locked and left alone.`];
  const warnings = [...report.warnings, ...left, ...ties];
  if (isOneOfSeveral(operation, shot, scope, outcome.shot)) warnings.push(sayOnly(shot, scope.layer));
  const notes = operation.saysRounds ? report.notes : [...report.notes, ...sayRounds(shot, outcome.shot)];
  return { ...outcome, report: { ...report, warnings, notes } };
}

/** Does it change the time or the sides of one pass alone, though nothing is picked and more plays? Also where it finds nothing to change there. */
function isOneOfSeveral(operation: Operation, shot: Shot, scope: Scope, after: Shot): boolean {
  const isOfLayer = operation.group === "Timing" || operation.group === "Cycles" || operation.ofLayerAlone;
  if (!isOfLayer || operation.leaves?.includes("layer")) return false;
  if (scope.layer === BASE || !isWhole(scope) || shot.base !== after.base || ownControl(shot, scope.layer)) return false;
  return shot.passes.some(({ id }) => id === scope.layer) && Object.keys(shot.base).length > 0;
}

function sayOnly(shot: Shot, layer: string): string {
  const others = shot.passes.filter(({ id, on }) => on && id !== layer).length;
  const what = `base motion${others > 0 ? ` and ${others === 1 ? "the other pass" : `${others} other passes`}` : ""}`;
  return `Only "${layerOf(shot, layer)?.name}" is meant, as it is the chosen layer: ${what} ${others > 0 ? "stay as they are" : "stays as it is"}.`;
}

/**
 * Run an operation so that locked channels come out as they went in. Those in scope are left alone and
 * the report says so; an operation that cannot leave them alone is refused. The report also says what became of
 * rounds. Errors: `locked`, `not-found`, `bad-setting`, and whatever the operation itself raises.
 */
export async function runOperation<Settings>(
  operation: Operation<Settings>,
  shot: Shot,
  scope: Scope,
  settings: Settings,
  context: Context,
): Promise<Outcome> {
  const begun = begin(operation as Operation, shot, scope, settings);
  const made = leaveSame(shot, await operation.run(shot, scope, settings, context));
  const outcome = finish(operation as Operation, shot, scope, settings, begun, made);
  return context.firstLook ? outcome : sayWhyNothing(operation as Operation, shot, outcome);
}

/** What came out as it went in counts as unchanged. */
function leaveSame(before: Shot, outcome: Outcome): Outcome {
  const shot = asBefore(before, outcome.shot);
  if (shot === outcome.shot) return outcome;
  return { ...outcome, shot, report: { ...outcome.report, curvesChanged: countChanged(before, shot) } };
}

/** Where nothing would change, the report says why. */
function sayWhyNothing(operation: Operation, before: Shot, outcome: Outcome): Outcome {
  const { report } = outcome;
  if (outcome.shot !== before || outcome.action || report.warnings.length + report.notes.length > 0) return outcome;
  return {
    ...outcome,
    report: { ...report, notes: [operation.nothing ?? "What is in scope is already as these settings would make it."] },
  };
}

/** The same at once, for what is done by hand: such operations never wait. */
export function runByHand<Settings>(operation: HandOperation<Settings>, shot: Shot, scope: Scope, settings: Settings): Outcome {
  const begun = begin(operation as Operation, shot, scope, settings);
  return finish(operation as Operation, shot, scope, settings, begun, operation.run(shot, scope, settings));
}

/** The channels of the figure that come out otherwise, in base motion or by passes: keyed there, or moved by a new one. */
function changedKeys(before: Shot, after: Shot): ChannelKey[] {
  const keys = new Set<ChannelKey>();
  const compare = (was: Shot["base"], is: Shot["base"]) => {
    for (const key of new Set([...Object.keys(was), ...Object.keys(is)])) if (was[key] !== is[key]) keys.add(key);
  };
  compare(before.base, after.base);
  for (const pass of after.passes) {
    const old = before.passes.find(({ id }) => id === pass.id);
    compare(old?.curves ?? {}, pass.curves);
    if (!old) for (const key of pass.members ?? []) keys.add(key);
  }
  return [...keys];
}

function isChanged(before: Shot, after: Shot, key: ChannelKey): boolean {
  if (before.base[key] !== after.base[key]) return true;
  return [...before.passes, ...before.constraints].some(({ id, curves }) => curves[key] !== layerCurves(after, id)[key]);
}

/** "Head rotate X is", "Head rotate X and 4 more are". */
function sayChannels(shot: Shot, keys: readonly ChannelKey[]): string {
  const first = channelTitle(shot.rig, keys[0]);
  return keys.length === 1 ? `${first} is` : `${first} and ${keys.length - 1} more are`;
}
