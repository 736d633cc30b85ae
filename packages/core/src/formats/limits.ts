/** What a shot may be at the most, whatever file it comes from. */
export const MOST_CONTROLS = 5000;
/** From its first to its last frame, and from its first key to its last. */
export const MOST_FRAMES = 200_000;
/** Controls times frames: what it takes to play a shot into a format that has one sample a frame. */
export const MOST_SAMPLES = 3_000_000;
/** Further than this from frame 0 nothing may be. */
export const FURTHEST_FRAME = 10_000_000;
/** Values, lengths and slopes: a single-precision format must be able to hold them and their products. */
export const LARGEST_NUMBER = 1e12;
/** What work on a shot may make of values: passes and weights that are added up stay within what a format holds. */
export const LARGEST_MADE = 1e9;
/** Frames a second. */
export const SLOWEST = 0.01;
export const QUICKEST = 100_000;
/** Letters of a name. */
export const LONGEST_NAME = 300;
