/*
 * How much the parts of a grown body weigh and where along them their centres are: P. de Leva, "Adjustments to
 * Zatsiorsky-Seluyanov's segment inertia parameters", Journal of Biomechanics 29 (1996), table 4, men. Written down from
 * memory. Shares of the whole; centres as shares of the way from the upper joint to the lower.
 */

interface Segment {
  readonly mass: number;
  /** Share of the way from where it begins to where it ends. */
  readonly centre: number;
}

/** Each limb once: there are two of it. */
export const limbSegments = {
  upperArm: { mass: 0.0271, centre: 0.5772 },
  forearm: { mass: 0.0162, centre: 0.4574 },
  hand: { mass: 0.0061, centre: 0.79 },
  thigh: { mass: 0.1416, centre: 0.4095 },
  shank: { mass: 0.0433, centre: 0.4459 },
  foot: { mass: 0.0137, centre: 0.4415 },
} as const satisfies Record<string, Segment>;

/** The head with the neck; its centre is about in its middle. */
export const headSegment: Segment = { mass: 0.0694, centre: 0.5 };

/**
 * The trunk in three, from the hips up: their own centres as shares of the way from the hips to the shoulders. The table
 * cuts it at the navel and at the lower end of the breastbone, at about 28 % and 60 % of that way.
 */
export const trunkSegments: readonly Segment[] = [
  { mass: 0.1117, centre: 0.11 },
  { mass: 0.1633, centre: 0.46 },
  { mass: 0.1596, centre: 0.88 },
];

/** What no table of people has: a tail is taken to weigh as an arm does. All is then divided by the sum. */
export const TAIL_MASS = limbSegments.upperArm.mass + limbSegments.forearm.mass + limbSegments.hand.mass;
