import {
  BASE,
  channelKey,
  controlById,
  controlsMeant,
  countedWord,
  isWhole,
  layerCurves,
  layerOf,
  type Operation,
  ownControl,
  pickedCount,
  type Scope,
  type Shot,
  splitChannelKey,
} from "@kneader/core";

/**
 * Who, which curves, which frames, which layer the next operation will touch: "Whole figure · 54 curves",
 * "Tail 2, Tail 3 · 6 curves · frames 30–60 · in Pass 1". Of an operation it leaves out what that takes no notice of.
 */
export function sayScope(shot: Shot, scope: Scope, operation?: Operation, settings?: unknown): string {
  const { leaves = [] } = operation ?? {};
  const parts = [saidBy(shot, scope, operation, settings) ?? sayWho(shot, scope)];
  if (scope.range && !leaves.includes("range") && scope.keys === null) parts.push(`frames ${scope.range.start}–${scope.range.end}`);
  const pass = scope.layer === BASE ? undefined : layerOf(shot, scope.layer);
  if (pass && !leaves.includes("layer") && !ownControl(shot, scope.layer)) parts.push(`in ${pass.name}`);
  return parts.join(" · ");
}

function saidBy(shot: Shot, scope: Scope, operation: Operation | undefined, settings: unknown): string | null {
  if (!operation) return null;
  try {
    return operation.saysScope?.(shot, scope, settings) ?? (operation.leaves?.includes("controls") ? "The whole shot" : null);
  } catch {
    // What is missing is said by the operation itself.
    return null;
  }
}

function sayWho(shot: Shot, scope: Scope): string {
  if (scope.keys) return `${countedWord(pickedCount(scope.keys), "key")} on ${countedWord(Object.keys(scope.keys).length, "curve")}`;
  const own = ownControl(shot, scope.layer);
  const { keyed, still } = countCurves(shot, scope);
  const locked = still > 0 ? `, ${still} locked` : "";
  if (own) return `${own.name} · ${countedWord(keyed, "curve")}${locked}`;
  const names = isWhole(scope) ? [] : [...controlsMeant(shot, scope)].map((id) => controlById(shot.rig, id)?.name ?? id);
  const whole = scope.everything ? "Everything in the shot" : "Whole figure";
  const who = names.length === 0 ? whole : names.length > 2 ? `${names[0]} and ${names.length - 1} more` : names.join(", ");
  const where = scope.layer === BASE ? "never keyed" : "no keys yet";
  return keyed + still === 0 ? `${who} · ${where}` : `${who} · ${countedWord(keyed, "curve")}${locked}`;
}

function countCurves(shot: Shot, scope: Scope): { keyed: number; still: number } {
  const curves = layerCurves(shot, scope.layer);
  const own = ownControl(shot, scope.layer);
  const meant = own ? null : controlsMeant(shot, scope);
  const picked = scope.channels === null || own ? null : new Set(scope.channels);
  const locked = new Set(shot.locked);
  const counts = { keyed: 0, still: 0 };
  for (const key in curves) {
    if (meant && !meant.has(splitChannelKey(key).control)) continue;
    if (own && !own.channels.some((channel) => channelKey(own.id, channel) === key)) continue;
    if (picked && !picked.has(key)) continue;
    if (locked.has(key)) counts.still++;
    else counts.keyed++;
  }
  return counts;
}
