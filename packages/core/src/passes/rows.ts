import type { Pass, PassRange, Shot } from "../model/shot.ts";
import { playedAction, playedSpan, playOf, playPass } from "./play.ts";

/*
 * Bands: passes that play actions. Several may share a row; where two of a row overlap the one goes over into the other.
 */

/** The pass with its range where its settings have it play; eases are kept, within the span. Others are answered as they are. */
export function withSpan(shot: Pick<Shot, "actions" | "rate">, pass: Pass): Pass {
  const action = pass.kind === playPass.id ? playedAction(shot, pass) : undefined;
  if (!action) return pass;
  const { start, end } = playedSpan(action.clip, shot.rate, playOf(pass));
  const most = Math.max(0, end - start);
  const { easeIn = 0, easeOut = 0 } = pass.range ?? {};
  const range: PassRange = { start, end, easeIn: Math.min(easeIn, most), easeOut: Math.min(easeOut, most) };
  const same = pass.range && (Object.keys(range) as (keyof PassRange)[]).every((name) => pass.range?.[name] === range[name]);
  return same ? pass : { ...pass, range };
}

const rowOf = (pass: Pass): string => (pass.kind === playPass.id && typeof pass.settings.row === "string" ? pass.settings.row : "");

/** The bands that share a pass's row, in order of time; none when it stands by itself. */
export function bandsBeside(shot: Pick<Shot, "passes">, id: string): Pass[] {
  const pass = shot.passes.find((one) => one.id === id);
  const row = pass ? rowOf(pass) : "";
  if (row === "") return [];
  return shot.passes.filter((one) => rowOf(one) === row).sort((a, b) => (a.range?.start ?? 0) - (b.range?.start ?? 0));
}

/**
 * The shot with the bands of a row crossing over where they overlap. Of two that replace the upper one comes or goes over
 * the frames they share while the lower stays whole, so that there is always all of one or the other; two that add come
 * and go together, and always make one. Eases that came from an overlap before go with it.
 */
export function crossed(before: Pick<Shot, "passes">, shot: Shot, id: string): Shot {
  const bands = bandsBeside(shot, id);
  if (bands.length < 2) return shot;
  const old = new Map<string, number>();
  for (const { earlier, later, frames } of overlapsOf(bandsBeside(before, id)))
    old.set(`${earlier.id}>`, frames).set(`<${later.id}`, frames);
  const eases = new Map(bands.map((pass) => [pass.id, { ...(pass.range as PassRange) }]));
  for (const { id: band } of bands) {
    const range = eases.get(band) as PassRange & { easeIn: number; easeOut: number };
    if (old.get(`<${band}`) === range.easeIn) range.easeIn = 0;
    if (old.get(`${band}>`) === range.easeOut) range.easeOut = 0;
  }
  for (const { earlier, later, frames } of overlapsOf(bands)) {
    const adds = playPass.joins(later) === "adds" && playPass.joins(earlier) === "adds";
    const laterIsUpper = shot.passes.indexOf(later) > shot.passes.indexOf(earlier);
    Object.assign(eases.get(later.id) as object, { easeIn: adds || laterIsUpper ? frames : 0 });
    Object.assign(eases.get(earlier.id) as object, { easeOut: adds || !laterIsUpper ? frames : 0 });
  }
  const passes = shot.passes.map((pass) => {
    const range = eases.get(pass.id);
    return range && (range.easeIn !== pass.range?.easeIn || range.easeOut !== pass.range?.easeOut) ? { ...pass, range } : pass;
  });
  return { ...shot, passes };
}

/** Bands of a row that overlap the next one, by how many frames. */
function overlapsOf(bands: readonly Pass[]): { earlier: Pass; later: Pass; frames: number }[] {
  return bands.flatMap((later, n) => {
    const earlier = bands[n - 1];
    if (!earlier?.range || !later.range) return [];
    const frames = Math.min(earlier.range.end, later.range.end) - later.range.start;
    return frames > 0 ? [{ earlier, later, frames }] : [];
  });
}

/** The shot without the copies of actions that no pass plays any more. */
export function withoutUnplayed(shot: Shot): Shot {
  const played = new Set(shot.passes.flatMap(({ settings }) => [settings.action, settings.opens]));
  const actions = shot.actions.filter(({ card }) => played.has(card.id));
  return actions.length === shot.actions.length ? shot : { ...shot, actions };
}
