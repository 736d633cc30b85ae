import { type Scope, type Shot, WHOLE_FIGURE } from "@kneader/core";
import type { Chance } from "../../packages/core/test/help/chance.ts";

/** What a person might have picked: some controls, a range, a pass, a few keys. */
export function scopeFor(shot: Shot, chance: Chance): Scope {
  const { rig, range, passes, base } = shot;
  const span = range.end - range.start;
  const start = Math.round(range.start + chance.between(0, 0.5) * span);
  const keyed = Object.keys(base);
  const picked = chance.of(keyed);
  const times = [...base[picked].times].filter(() => chance.next() < 0.6);
  const some = <Value>(value: Value, share: number): Value | null => (chance.next() < share ? value : null);
  return {
    ...WHOLE_FIGURE,
    controls: some([chance.of(rig.controls).id, chance.of(rig.controls).id], 0.5),
    channels: some(
      keyed.filter(() => chance.next() < 0.5),
      0.2,
    ),
    keys: some({ [picked]: times }, 0.2),
    range: some({ start, end: Math.round(start + chance.between(0.1, 0.5) * span) }, 0.5),
    layer: passes.length > 0 && chance.next() < 0.4 ? chance.of(passes).id : "base",
  };
}
