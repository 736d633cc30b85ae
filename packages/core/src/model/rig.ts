import type { RotationOrder } from "../maths/rotation.ts";

/** The nine numbers every control may have; attributes of its own have other names. */
export const moveChannels = ["moveX", "moveY", "moveZ"] as const;
export const rotateChannels = ["rotateX", "rotateY", "rotateZ"] as const;
export const scaleChannels = ["scaleX", "scaleY", "scaleZ"] as const;
export const transformChannels = [...moveChannels, ...rotateChannels, ...scaleChannels] as const;
export type TransformChannel = (typeof transformChannels)[number];

/** `controlId.channel`: the name under which a channel's curves are kept. */
export type ChannelKey = string;

/** What a control is for: a part of the figure, a thing it handles, the place around it, or a camera. */
export const controlRoles = ["figure", "prop", "set", "camera"] as const;
export type ControlRole = (typeof controlRoles)[number];

/** Left out though it has a partner; or every channel copied from the partner, those named with the other sign. */
export type MirrorRule = "left out" | { readonly flips: readonly string[] };

/** The plane about which the rest pose is even: an axis of the world, and where on it. */
export interface Sides {
  readonly axis: "x" | "y" | "z";
  readonly at: number;
}

/** From where to where turns go, by channel, in degrees. */
export type JointRanges = Readonly<Record<string, readonly [low: number, high: number]>>;

/** One thing you pose. Angles are in degrees, lengths in scene units. */
export interface Control {
  /** Unique in its rig; no dots. */
  readonly id: string;
  readonly name: string;
  /** The control above, or null at the top. */
  readonly parent: string | null;
  /** Where it rests relative to its parent; channel values come on top of this. */
  readonly rest: readonly [number, number, number];
  /** Resting turn as a unit quaternion x, y, z, w. */
  readonly restTurn: readonly [number, number, number, number];
  readonly order: RotationOrder;
  /** The channels it has, in the order in which they are listed. */
  readonly channels: readonly string[];
  /** The control on the other side; its own id when it is central; null when it is never mirrored. */
  readonly partner: string | null;
  /** How it takes its partner's mirror image where that is not worked out from the rest pose. */
  readonly mirror?: MirrorRule;
  /** How far its turns go, by rotate channel, in degrees: the range of a joint. What is not said is learned from the shot. */
  readonly ranges?: JointRanges;
  readonly role: ControlRole;
  /** Body part, for choosing many at once: "head", "arms", "tail" …; may be empty. */
  readonly part: string;
  /** End of the bone that is drawn, when no child marks it. */
  readonly tip?: readonly [number, number, number];
}

/** A control with what it is not told: at the top, resting at the origin, with move and rotate channels, part of the figure. */
export function makeControl(id: string, given: Partial<Control> = {}): Control {
  return {
    id,
    name: id,
    parent: null,
    rest: [0, 0, 0],
    restTurn: [0, 0, 0, 1],
    order: "XYZ",
    channels: [...moveChannels, ...rotateChannels],
    partner: null,
    role: "figure",
    part: "",
    ...given,
  };
}

/** Does a control belong to the place around the figure, rather than to the figure or to what it handles? */
export function isScenery({ role }: Control): boolean {
  return role === "set" || role === "camera";
}

/** The character with what it carries; of a rig that is nothing but scenery, all of it. */
export function figureControls({ controls }: Pick<Rig, "controls">): readonly Control[] {
  const own = controls.filter((control) => !isScenery(control));
  return own.length > 0 ? own : controls;
}

export interface Rig {
  readonly id: string;
  readonly name: string;
  /** Parents stand before their children. */
  readonly controls: readonly Control[];
  /** Name of the drawn figure, when the application knows one; bones are drawn otherwise. */
  readonly figure: string | null;
  /** Where left meets right at rest; found from the rest pose where nobody has said (see `sidesOf`). */
  readonly sides?: Sides;
}

export function channelKey(controlId: string, channel: string): ChannelKey {
  return `${controlId}.${channel}`;
}

export function splitChannelKey(key: ChannelKey): { control: string; channel: string } {
  const dot = key.lastIndexOf(".");
  return { control: key.slice(0, dot), channel: key.slice(dot + 1) };
}

export function channelKeysOf(rig: Rig): ChannelKey[] {
  return rig.controls.flatMap((control) => control.channels.map((channel) => channelKey(control.id, channel)));
}

export type ChannelUnit = "degrees" | "length" | "factor" | "percent" | "number";

/** What the name of an attribute in percent ends with. */
export const PERCENT = " %";
/** Angles that constraints have of their own. */
const turnsOfConstraints: readonly string[] = ["roll", "twist"];
/** The attribute of a camera: how many degrees it sees from bottom to top. */
export const FIELD_OF_VIEW = "fieldOfView";

export function channelUnit(channel: string): ChannelUnit {
  if (channel.endsWith(PERCENT)) return "percent";
  if (channel.startsWith("rotate") || channel === FIELD_OF_VIEW || turnsOfConstraints.includes(channel)) return "degrees";
  if (channel.startsWith("move")) return "length";
  if (channel.startsWith("scale")) return "factor";
  return "number";
}

/** Is a channel measured in degrees or percent, of which one is little, and not in lengths or factors? */
export function isFine(channel: string): boolean {
  const unit = channelUnit(channel);
  return unit === "degrees" || unit === "percent";
}

/** The value a channel has when nothing is keyed. */
export function restValue(channel: string): number {
  if (channel === FIELD_OF_VIEW) return 30;
  return channel.startsWith("scale") && !channel.endsWith(PERCENT) ? 1 : 0;
}

/** "rotateX" → "rotate X"; names of own attributes stay as they are. */
export function channelLabel(channel: string): string {
  // Whether what is stepped rides along with the camera.
  if (channel === "rides") return "rides along";
  if (channel === FIELD_OF_VIEW) return "field of view";
  return channel.replace(/^(move|rotate|scale)([XYZ])$/, "$1 $2");
}

const lookups = new WeakMap<Rig, Map<string, Control>>();

export function controlById(rig: Rig, id: string): Control | undefined {
  let lookup = lookups.get(rig);
  if (!lookup) {
    lookup = new Map(rig.controls.map((control) => [control.id, control]));
    lookups.set(rig, lookup);
  }
  return lookup.get(id);
}

/** "Tail 2 · rotate X" */
export function channelTitle(rig: Rig, key: ChannelKey): string {
  const { control, channel } = splitChannelKey(key);
  return `${controlById(rig, control)?.name ?? control} ${channelLabel(channel)}`;
}
