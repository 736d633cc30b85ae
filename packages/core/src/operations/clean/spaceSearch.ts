import { inPieces } from "../../inPieces.ts";
import { DEG } from "../../maths/rotation.ts";
import { type ChannelKey, channelUnit, type Rig, splitChannelKey } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import type { Scope } from "../operation.ts";
import { changeCurves } from "../shared/scope.ts";
import { endPlaces } from "./endPlaces.ts";
import { type FitChannels, fitChannels, type Fits } from "./fitChannels.ts";
import { endsOf, leversOf, waysTo } from "./levers.ts";

/** Fits of all curves, and mends of single places, that are tried. */
const FITS = 5;
const MENDS = 10;
/** The factor to begin with, for a chain of one control: errors of many seldom all add up. */
const START = 0.7;
/** A fit is tight enough when its worst end uses so much of the distance. */
const USED = 0.7;
/** With so large a share of frames too far off, all curves are fitted again, closer. */
const OFTEN = 0.05;
/** Frames to either side of one that is too far off that are held closer with it. */
const AROUND = 2;
/** What is held closer is held so by this much more than it seems to need. */
const MORE = 0.85;

/** What a fit leaves: how far the worst end is off, and at which frames each end is too far. */
interface Off {
  readonly worst: number;
  readonly over: readonly { readonly end: number; readonly frame: number; readonly distance: number }[];
  /** Share of frames at which any end is too far. */
  readonly often: number;
}

/** The fits within a distance, and what the worst end is off by. */
export interface SpaceFits {
  readonly fits: Fits;
  readonly worst: number;
}

/**
 * Looks for tolerances of all channels that keep the figure's ends within a distance. Each turn may be off by what its lever
 * turns into that distance, all scaled by one factor; where an end is too far off all the same, the channels above it are held
 * closer around that frame, and they alone are fitted again.
 */
export class SpaceSearch {
  private readonly ends: readonly string[];
  private readonly levers: ReadonlyMap<string, number>;
  /** By end: the controls that move it. */
  private readonly above: readonly ReadonlySet<string>[];
  private readonly start: number;
  private readonly count: number;
  /** By control: shares of the tolerance at each frame. */
  private readonly shares = new Map<string, Float64Array>();
  private readonly shot: Shot;
  private readonly scope: Scope;
  private readonly how: FitChannels;
  private readonly distance: number;
  /** Where the ends were. */
  private before: Float64Array = new Float64Array(0);
  private done = 0;

  constructor(shot: Shot, scope: Scope, how: FitChannels, distance: number) {
    this.shot = shot;
    this.scope = scope;
    this.how = how;
    this.distance = distance;
    this.ends = endsOf(shot.rig);
    this.levers = leversOf(shot.rig, this.ends);
    this.above = this.ends.map((end) => new Set(waysTo(shot.rig, end).map(({ id }) => id)));
    const range = scope.range ?? shot.range;
    this.start = Math.ceil(range.start);
    this.count = Math.floor(range.end) - this.start + 1;
  }

  /** The fits that were found; null when none keeps the ends within the distance. */
  async find(channels: readonly ChannelKey[]): Promise<SpaceFits | null> {
    this.before = await this.placesOf(this.shot);
    let factor = START / Math.sqrt(chainOf(this.shot.rig, this.ends));
    let found: SpaceFits | null = null;
    // Where tangents may break a curve has one tolerance throughout: mending a place would hold all of it closer.
    const [mendable, closer] = this.how.broken ? [0, 0.97] : [OFTEN, 1.2];
    for (let n = 0; n < FITS; n++) {
      this.shares.clear();
      const fits = await this.fit(channels, factor);
      const off = await this.off(fits);
      if (off.often <= mendable) {
        const mended = await this.mend(channels, factor, fits, off);
        if (mended) {
          found = mended;
          // What was within it from the first, and by far, may be looser.
          if (off.worst >= USED * this.distance) return found;
          factor *= Math.min(2, (0.9 * this.distance) / Math.max(off.worst, 0.1 * this.distance));
          continue;
        }
      }
      if (found) return found;
      factor *= off.often > mendable ? Math.max(0.4, (closer * this.distance) / off.worst) : 0.7;
    }
    return found;
  }

  /** Hold what moves an end closer wherever that is too far off, and fit that alone again, until none is. */
  private async mend(channels: readonly ChannelKey[], factor: number, first: Fits, at: Off): Promise<SpaceFits | null> {
    let fits = first;
    let off = at;
    for (let n = 0; n < MENDS; n++) {
      if (off.over.length === 0) return { fits, worst: off.worst };
      const touched = this.holdCloser(off);
      const again = channels.filter((key) => this.how.together === "figure" || touched.has(splitChannelKey(key).control));
      const closer = await this.fit(again, factor);
      const changed = { ...fits.changed };
      for (const key of again) delete changed[key];
      fits = { changed: { ...changed, ...closer.changed }, left: fits.left };
      off = await this.off(fits);
    }
    return off.over.length === 0 ? { fits, worst: off.worst } : null;
  }

  /** Answers the controls that are held closer now. */
  private holdCloser({ over }: Off): Set<string> {
    // How much closer each end is to be held at each frame, and by it all that is above it.
    const closer = new Map<string, Float64Array>();
    for (const { end, frame, distance } of over)
      for (const id of this.above[end]) {
        const by = closer.get(id) ?? new Float64Array(this.count).fill(1);
        closer.set(id, by);
        for (let f = Math.max(0, frame - AROUND); f <= Math.min(this.count - 1, frame + AROUND); f++)
          by[f] = Math.min(by[f], (MORE * this.distance) / distance);
      }
    for (const [id, by] of closer) {
      const shares = this.shares.get(id);
      this.shares.set(id, shares ? shares.map((share, f) => share * by[f]) : by);
    }
    return new Set(closer.keys());
  }

  private fit(channels: readonly ChannelKey[], factor: number): Promise<Fits> {
    return fitChannels(this.shot, this.scope, channels, {
      ...this.how,
      toleranceOf: (key) => this.toleranceAt(factor, key),
      sharesOf: (key, start, count) => this.sharesOf(key, start, count),
      breathe: () => this.breathe(),
    });
  }

  private toleranceAt(factor: number, key: ChannelKey): number {
    const { how, levers, distance } = this;
    const { control, channel } = splitChannelKey(key);
    const lever = levers.get(control);
    if (lever === undefined) return how.toleranceOf(key);
    const unit = channelUnit(channel);
    if (unit === "length") return factor * distance;
    // An end turns in its place, and no further than its own tolerance says.
    if (unit === "degrees") return lever > 0 ? Math.min(90, (factor * distance) / lever / DEG) : how.toleranceOf(key);
    return how.toleranceOf(key);
  }

  private sharesOf(key: ChannelKey, start: number, count: number): Float64Array | undefined {
    const shares = this.shares.get(splitChannelKey(key).control);
    if (!shares) return undefined;
    // Curves may have keys beyond the frames that are looked at.
    return Float64Array.from({ length: count }, (_, k) => shares[start + k - this.start] ?? 1);
  }

  private async off({ changed }: Fits): Promise<Off> {
    const after = await this.placesOf(changeCurves(this.shot, this.scope.layer, changed));
    const { before, ends, distance } = this;
    let worst = 0;
    let often = 0;
    const over: { end: number; frame: number; distance: number }[] = [];
    for (let frame = 0, o = 0; frame < this.count; frame++) {
      const known = over.length;
      for (let end = 0; end < ends.length; end++, o += 3) {
        const apart = Math.hypot(after[o] - before[o], after[o + 1] - before[o + 1], after[o + 2] - before[o + 2]);
        if (apart > worst) worst = apart;
        if (apart > distance) over.push({ end, frame, distance: apart });
      }
      if (over.length > known) often++;
    }
    return { worst, over, often: often / this.count };
  }

  private placesOf(shot: Shot): Promise<Float64Array> {
    const range = { start: this.start, end: this.start + this.count - 1 };
    return inPieces(endPlaces(shot, range, this.ends), () => this.breathe());
  }

  /** How long it will take nobody knows: the share done comes ever nearer to the whole. */
  private async breathe(): Promise<void> {
    this.done++;
    await this.how.breathe(1 - 1 / (1 + this.done / 400));
  }
}

/** The most controls above any end. */
function chainOf(rig: Rig, ends: readonly string[]): number {
  return Math.max(1, ...ends.map((end) => waysTo(rig, end).length));
}
