import { z } from "zod";
import { inPieces } from "../../inPieces.ts";
import { KneaderError } from "../../errors.ts";
import { measureDrift, measureDriftInPieces } from "../../evaluate/drift.ts";
import { sizeOf } from "../../figure/sides.ts";
import { channelUnit, isScenery, splitChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import { activePasses } from "../../passes/active.ts";
import { computedKind, passKind } from "../../passes/kinds.ts";
import { asDegree, type Closeness, LEASH } from "../../tune/closeness.ts";
import { costs } from "../../tune/costs/costs.ts";
import { type Judged, judgedBy, motionOf, type Strain, strainOf } from "../../tune/judged.ts";
import type { Movable } from "../../tune/keyVariables.ts";
import { makeLongTuning } from "../../tune/longTuning.ts";
import { type Stretch, stretchesOf } from "../../tune/stretches.ts";
import { makeTuning, type Told, type Tuned, type Tuning, withMoved } from "../../tune/tuning.ts";
import { sayLength } from "../../model/sayLength.ts";
import { countedWord, listed } from "../../words.ts";
import { refuseUnkeyed, shakenFromAbove } from "./fromAbove.ts";
import type { Operation, Outcome, Report, Scope } from "../operation.ts";
import { needSomething, outcome, scopedChannels, scopedKeys, scopeRange } from "../shared/scope.ts";

const FIRST: Readonly<Record<string, number>> = { jerk: 1, feet: 1, arc: 0.5 };
const number = (most: number) => z.number().min(0).max(most);
const painted = z
  .object({ start: z.number(), end: z.number(), closeness: number(1000) })
  .refine(({ start, end }) => end >= start, { message: "a painted span ends before it begins" });

const settings = z.object({
  closeness: number(1000)
    .default(2)
    .meta({
      title: "Closeness",
      widget: "closeness",
      max: 20,
      step: 0.1,
      help: `How closely the motion stays to what it was: at 1 nothing turns by more than ${LEASH}°, at 10 by 1°, at 1 000 by 0.01°; at 0 as far as it likes.`,
    }),
  costs: z
    .record(z.string(), number(100))
    .default({ ...FIRST })
    .meta({
      title: "What is bad",
      widget: "costs",
      help: "Each kind of strain by its weight: 0 leaves it out, 2 counts double.",
    }),
  parts: z.record(z.string(), number(1000)).default({}).meta({
    title: "Closer by part",
    widget: "closer-parts",
    more: true,
    help: "A body part, or a control by its id, that stays so many times closer.",
  }),
  painted: z.array(painted).max(500).default([]).meta({
    title: "Painted",
    widget: "painted",
    more: true,
    help: "Spans of frames with a closeness of their own, painted on the strain tray.",
  }),
  pinned: z
    .array(z.number())
    .max(1000)
    .default([])
    .meta({ title: "Poses that stay", widget: "frames", more: true, help: "At these frames the pose stays exactly as it is." }),
  slopes: z
    .boolean()
    .default(true)
    .meta({ title: "Slopes and handles too", help: "Free tangents turn, weighted handles grow and shrink. Off: only values move." }),
  times: z
    .boolean()
    .default(false)
    .meta({ title: "Times too", help: "Keys may go forth and back by up to half a gap, each by itself, and then stand between frames." }),
  steps: z.number().int().min(1).max(5000).default(300).meta({ title: "Steps at most", more: true, max: 1000, step: 10 }),
});
type Settings = z.infer<typeof settings>;

/** The machine moves the keys there are until what is bad about the motion is less, staying as close as it is told. */
export const tune: Operation<Settings> = {
  id: "tune",
  title: "Tune",
  group: "Tune",
  help: "Moves the keys there are, their slopes and handles, so that what is bad about the motion gets less: jerk, sliding feet, crooked arcs and more. No key comes or goes.",
  guide: {
    use: "Say what bothers you, by weights, and watch it get better on your own keys. Stop whenever it is good enough; paint on the strain tray where the motion must stay.",
    watch:
      "It knows nothing of acting: a snap that is meant is jerk to it. Pin the poses that must not change, or paint them dark. Set and camera are left alone, and so is what does not move. A shot of more than 8 000 frames is tuned in stretches of frames, turn about: stopped early, it is better in some than in others.",
  },
  words: "tune optimise optimize polish improve strain jerk slide balance automatic machine physics smooth better",
  settings,
  steers: (before, after) => before.slopes === after.slopes && before.times === after.times && before.steps === after.steps,
  async run(shot, scope, s, context) {
    const movables = movablesIn(shot, scope);
    const judged = judge(shot, scope, s);
    await context.breathe(0);
    const begun = { shot, scope, movables, judged, before: makeStrains(judged), stretches: stretchesFor(shot, movables, judged) };
    let now = s;
    let tuning = begin(begun, now);
    refuseStill(tuning, movables, s);
    await context.breathe(0);
    const heldShot = () => withMoved(shot, scope.layer, movables, tuning.held());
    const sofar = (): Outcome => {
      const after = heldShot();
      return tell(begun, after, tuning, now, measureDrift(shot, after, scopeRange(shot, scope)), false);
    };
    const breathe = () => context.breathe(tuning.share);
    for (;;) {
      await breathe();
      const latest = context.latest?.();
      if (latest) {
        const before = now;
        now = settings.parse(latest);
        refuseNothingBad(now);
        if (inStretches(begun, now) === inStretches(begun, before)) tuning.steer(toldBy(now));
        else tuning = begin(begun, now);
      }
      if (!(await inPieces(tuning.step(), breathe))) break;
      context.show?.(sofar);
    }
    const after = heldShot();
    const drift = await measureDriftInPieces(shot, after, scopeRange(shot, scope), (share) => context.breathe(share));
    return tell(begun, after, tuning, now, drift, true);
  },
};

const stretchesFor = (shot: Shot, movables: readonly Movable[], { subject: { start, count } }: Judged) =>
  stretchesOf(shot, movables, { start, end: start + count - 1 });

/** Begins from the keys as they are: in a long shot stretch by stretch. */
function begin(begun: Begun, s: Settings): Tuning {
  const { shot, scope, movables, judged, before, stretches } = begun;
  const parts = { slopes: s.slopes, times: s.times, cyclic: shot.cyclic };
  const tuned: Tuned = { shot, layer: scope.layer, movables, parts };
  if (!inStretches(begun, s)) return makeTuning(tuned, judged, toldBy(s));
  return makeLongTuning(tuned, stretches ?? [], judged, before, toldBy(s));
}

/** Is it tuned in stretches? Not where something is to get better that only the whole can be judged by. */
const inStretches = ({ stretches, judged }: Begun, { costs: weights }: Settings): boolean =>
  stretches !== null && !judged.costs.some(({ id, spans }) => spans && weights[id] > 0);

/** Keys in scope that may move: those of the figure's own places and turns. What stands still stays still unless it is picked by itself. */
function movablesIn(shot: Shot, scope: Scope): Movable[] {
  const pass = shot.passes.find(({ id }) => id === scope.layer);
  if (pass && computedKind(pass.kind))
    throw new KneaderError(
      "bad-setting",
      `Tune: "${pass.name}" is worked out and has no keys of the figure.`,
      "Choose base motion or a pass with keys.",
    );
  if (pass && !activePasses(shot).includes(pass))
    throw new KneaderError(
      "bad-setting",
      `Tune: "${pass.name}" is not heard, as it is off or another pass is on solo: nothing would be seen to get better.`,
      "Switch it on, or end the solo.",
    );
  const curves = layerCurves(shot, scope.layer);
  const isPicked = scope.keys !== null || scope.channels !== null;
  const scenery = new Set(shot.rig.controls.filter(isScenery).map(({ id }) => id));
  const keys = scopedChannels(shot, scope).filter((key) => {
    const { control, channel } = splitChannelKey(key);
    const unit = channelUnit(channel);
    if ((unit !== "degrees" && unit !== "length") || scenery.has(control)) return false;
    return isPicked || curves[key].values.some((value) => value !== curves[key].values[0]);
  });
  if (keys.length === 0) refuseUnkeyed(shot, scope);
  needSomething(keys, "Tune");
  const size = sizeOf(shot.rig);
  const movables = keys.flatMap((key) => {
    const picked = scopedKeys(curves[key], key, scope);
    return picked.length > 0 ? [{ key, curve: curves[key], keys: picked, degree: asDegree(key, size) }] : [];
  });
  needSomething(
    movables.map(({ key }) => key),
    "Tune",
  );
  return movables;
}

/** Around a marked range the figure is looked at for some frames more, so that nothing is bent at its ends. */
const AROUND = 4;

function refuseNothingBad({ costs: weights }: Settings): void {
  if (costs.every(({ id }) => !(weights[id] > 0)))
    throw new KneaderError("bad-setting", "Tune: nothing is to get better.", "Give one of the costs a weight.");
}

function judge(shot: Shot, scope: Scope, s: Settings): Judged {
  const { costs: weights } = s;
  const unknown = Object.keys(weights).find((id) => !costs.some((cost) => cost.id === id));
  if (unknown !== undefined)
    throw new KneaderError("bad-setting", `Tune: no cost is called "${unknown}".`, `Known are: ${costs.map(({ id }) => id).join(", ")}.`);
  refuseNothingBad(s);
  const { start, end } = scope.range ?? shot.range;
  const from = Math.floor(scope.range ? Math.max(Math.min(shot.range.start, start), start - AROUND) : start);
  const to = Math.ceil(scope.range ? Math.min(Math.max(shot.range.end, end), end + AROUND) : end);
  const judged = judgedBy(shot, costs, from, to - from + 1);
  if (judged.costs.every(({ id }) => !(weights[id] > 0))) {
    const [first] = judged.refused.filter(({ cost }) => weights[cost.id] > 0);
    throw new KneaderError("bad-setting", `Tune: ${first.cost.title} cannot be judged, as ${first.why}.`, "Give another cost a weight.");
  }
  return judged;
}

const closenessOf = ({ closeness, parts, painted: spans, pinned }: Settings): Closeness => ({
  all: closeness,
  parts,
  painted: spans,
  pinned,
});

const toldBy = (s: Settings): Told => ({ closeness: closenessOf(s), weights: s.costs, steps: s.steps });

function refuseStill(tuning: Tuning, movables: readonly Movable[], { pinned }: Settings): void {
  if (tuning.canMove()) return;
  throw new KneaderError(
    "nothing-in-scope",
    pinned.length > 0
      ? `Tune: nothing may move: the poses that stay leave no key of ${countedWord(movables.length, "curve")} free.`
      : "Tune: nothing may move.",
    "Let some poses go, or widen the scope.",
  );
}

interface Begun {
  readonly shot: Shot;
  readonly scope: Scope;
  readonly movables: readonly Movable[];
  readonly judged: Judged;
  /** The strain there was, by the number of a cost; worked out when it is asked for. */
  readonly before: (n: number) => Strain;
  /** Of a long shot. */
  readonly stretches: readonly Stretch[] | null;
}

function makeStrains(judged: Judged): (n: number) => Strain {
  const known: Strain[] = [];
  return (n) => {
    known[n] ??= strainOf(judged, n, judged.motion);
    return known[n];
  };
}

/** What was found, or has been found so far: then only what is to get better is told of. */
function tell(
  { shot, scope, movables, judged, before: strainBefore }: Begun,
  after: Shot,
  tuning: Tuning,
  s: Settings,
  drift: Report["drift"],
  isEnd: boolean,
): Outcome {
  const wanted = judged.costs.flatMap((cost, n) => (s.costs[cost.id] > 0 ? [n] : []));
  const motion = motionOf(after, judged.subject, judged);
  const told = isEnd ? [...judged.costs.keys()] : wanted;
  const [before, now]: [Strain[], Strain[]] = [[], []];
  for (const n of told) {
    before[n] = strainBefore(n);
    now[n] = strainOf(judged, n, motion);
  }
  const curves = layerCurves(after, scope.layer);
  const keys = movables.reduce((sum, { key, curve }) => sum + countMoved(curve, curves[key]), 0);
  const lower = wanted.filter((n) => now[n].value < before[n].value);
  const said = wanted.map((n) => {
    const { title, unit } = judged.costs[n];
    const [was, is] = [meanOf(before[n].frames), meanOf(now[n].frames)];
    const size = (amount: number) => (unit === "length" ? sayLength(shot, amount) : `${amount.toFixed(2)}°`);
    const share = was > 0 ? ` (${is <= was ? "−" : "+"}${Math.abs(Math.round((1 - is / was) * 100))} %)` : "";
    return `${title}: ${size(was)} → ${size(is)}${share}.`;
  });
  const notes: string[] = [];
  const left = tuning.left();
  if (left) notes.push(left);
  const bound = tuning.atBounds();
  if (bound > 0)
    notes.push(
      `${countedWord(bound, "value")} or slope${bound === 1 ? "" : "s"} moved as far as closeness lets ${bound === 1 ? "it" : "them"}.`,
    );
  const frozen = shot.passes.filter((pass) => pass.on && passKind(pass.kind)?.reads === "motion" && isAbove(shot, scope, pass.id));
  if (frozen.length > 0)
    notes.push(
      `${listed(frozen.map(({ name }) => `"${name}"`))} above ${frozen.length === 1 ? "is" : "are"} worked out anew from what was found.`,
    );
  const warnings = judged.refused.flatMap(({ cost, why }) => (s.costs[cost.id] > 0 ? [`${cost.title} cannot be judged: ${why}.`] : []));
  if (isEnd) {
    const worse = told.filter(
      (n) => meanOf(now[n].frames) > GETS_WORSE * meanOf(before[n].frames) && meanOf(now[n].frames) > judged.judges[n].seen / 4,
    );
    // What is paid for what gets better stands before it.
    if (worse.length > 0)
      warnings.unshift(
        `Gets worse: ${listed(
          worse.map((n) => {
            const [was, is] = [meanOf(before[n].frames), meanOf(now[n].frames)];
            return `${judged.costs[n].title.toLowerCase()}${was > 0 ? ` by ${Math.round((is / was - 1) * 100)} %` : ""}`;
          }),
        )}.`,
      );
  }
  const above = isEnd && isLittle(wanted, before, now) ? shakenFromAbove(shot, scope) : [];
  if (above.length > 0)
    notes.unshift(
      `What is picked is shaken from above: by ${listed(above.map(({ name }) => name))}. Take ${above.length === 1 ? "it" : "them"} along.`,
    );
  const rows = told.map((n) => ({
    cost: judged.costs[n].id,
    weight: s.costs[judged.costs[n].id] ?? 0,
    seen: judged.judges[n].seen,
    before: before[n].frames,
    after: now[n].frames,
  }));
  const summary =
    keys === 0
      ? "Tuned: no key had to move"
      : `Tuned ${countedWord(keys, "key")}: less ${listed(lower.map((n) => judged.costs[n].title.toLowerCase()))}`;
  return outcome(shot, after, lower.length === 0 && keys > 0 ? `Tuned ${countedWord(keys, "key")}` : summary, {
    drift,
    notes,
    warnings,
    strain: { start: judged.subject.start, rows, said },
    ...(above.length > 0 && { takeAlong: above.map(({ id }) => id) }),
  });
}

/** So many times as much as it was is told to get worse. */
const GETS_WORSE = 1.03;

/** Does nothing of what is wanted get better by a tenth? */
const isLittle = (wanted: readonly number[], before: readonly Strain[], now: readonly Strain[]): boolean =>
  wanted.every((n) => meanOf(now[n].frames) > 0.9 * meanOf(before[n].frames));

function isAbove(shot: Shot, { layer }: Scope, id: string): boolean {
  return shot.passes.findIndex((pass) => pass.id === id) > shot.passes.findIndex((pass) => pass.id === layer);
}

/** A key has moved when its value or its time has, or a slope. */
function countMoved(before: Movable["curve"], after: Movable["curve"]): number {
  if (before === after) return 0;
  const moved = new Uint8Array(before.times.length);
  for (const name of ["values", "times", "slopeIn", "slopeOut", "weightIn", "weightOut"] as const) {
    const [was, is] = [before[name], after[name]];
    for (let i = 0; i < moved.length; i++) if (Math.abs(was[i] - is[i]) > 1e-9) moved[i] = 1;
  }
  return moved.reduce((sum, one) => sum + one, 0);
}

function meanOf(frames: Float64Array): number {
  return frames.length === 0 ? 0 : frames.reduce((sum, one) => sum + one, 0) / frames.length;
}
