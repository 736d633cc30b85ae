import { type ChannelKey, channelKey, channelLabel, type Control, type Curve, type Curves } from "@kneader/core";

/** Which channels the trays list. */
export interface ChannelFilter {
  readonly words: string;
  /** Only channels whose value changes. */
  readonly moving: boolean;
  /** Only channels of the picked controls. */
  readonly ofPicked: boolean;
  readonly unlocked: boolean;
}

export const NO_FILTER: ChannelFilter = { words: "", moving: false, ofPicked: false, unlocked: false };

const AXES = new Set(["x", "y", "z"]);

/** Do all the words stand in the name? "tail rot y" finds Tail 2 rotate Y; one letter of these is an axis, and stands by itself. */
export function matchesWords(name: string, words: string): boolean {
  const lower = name.toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((word) => (AXES.has(word) ? ` ${lower} `.includes(` ${word} `) : lower.includes(word)));
}

/** Does the curve change at all? */
function isMoving(curve: Curve | undefined): boolean {
  if (!curve) return false;
  const { values, slopeOut } = curve;
  return values.some((value, i) => value !== values[0] || (i + 1 < values.length && slopeOut[i] !== 0));
}

/** The channels of a control that pass a filter, in the rig's order. */
export function listedChannels(
  control: Control,
  filter: ChannelFilter,
  state: { curves: Curves; picked: readonly string[]; locked: ReadonlySet<ChannelKey> },
): ChannelKey[] {
  if (filter.ofPicked && state.picked.length > 0 && !state.picked.includes(control.id)) return [];
  const listed: ChannelKey[] = [];
  for (const channel of control.channels) {
    const key = channelKey(control.id, channel);
    if (filter.unlocked && state.locked.has(key)) continue;
    if (filter.moving && !isMoving(state.curves[key])) continue;
    if (matchesWords(`${control.name} ${channelLabel(channel)}`, filter.words)) listed.push(key);
  }
  return listed;
}
