import { KneaderError } from "../../errors.ts";
import { carriedProps } from "../../evaluate/carriedProps.ts";
import { findFlights } from "../../evaluate/findFlights.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { massesOf } from "../../figure/anatomy/masses.ts";
import { STANDARD_GRAVITY } from "../../model/gravity.ts";
import { channelKey, channelTitle, type Control, controlById, isScenery, moveChannels, rotateChannels } from "../../model/rig.ts";
import type { Pass, Shot } from "../../model/shot.ts";
import { flightPass, flightPlan, type FlightPlan } from "../../passes/flight/flight.ts";
import { flightOf, flightOver, type FlightSettings, flightSettings } from "../../passes/flight/flightSettings.ts";
import { laterBy, placeOn, settled } from "../../passes/flight/planFlights.ts";
import { countedWord, listed } from "../../words.ts";
import type { Operation, Scope, Situation } from "../operation.ts";
import { freshPass } from "../passes/computedPass.ts";
import { outcome } from "../shared/scope.ts";
import { sayLength } from "../../model/sayLength.ts";

/** Farther from its arc than this share of its height (or of a scene unit) something else leads what flies. */
const OFF = 1e-3;

/** Let a jump weigh something: a pass on which what flies follows the arc of a thrown body. */
export const fly: Operation<FlightSettings> = {
  id: "fly",
  title: "Flight",
  group: "Physics",
  help: "A jump under gravity: between take-off and landing the figure's centre of mass, or a control, follows a true arc, in a pass of its own. Move the take-off, the top or the landing in the view, or type the numbers.",
  guide: {
    use: "Gives a jump its weight. A higher top takes longer, so the landing comes later and all after it with it; or the frames stay, and it is said how strong gravity would have to be.",
    watch:
      "Poses at take-off and landing stay as they are. Muted, the pass leaves the old jump. Where nothing is found, mark the frames from take-off to landing first.",
  },
  words: "jump hop leap gravity ballistic physics weight hang time air arc parabola bounce ball throw fall centre of mass trajectory",
  leaves: ["controls", "range", "layer"],
  saysRounds: true,
  settings: flightSettings,
  situation: proposed,
  saysScope: (shot, _scope, told) => whatFlies(shot, told),
  async run(shot, scope, told, context) {
    const chosen = chosenFlight(shot, scope);
    const under = belowOf(shot, chosen);
    const fresh = { ...told, flights: told.flights.map((flight) => ({ ...flight, frames: null, bounceFrames: null })) };
    if (fresh.flights.length === 0)
      throw new KneaderError(
        "nothing-in-scope",
        "Flight: no jump was found, in which both feet leave the ground.",
        "Mark the frames from take-off to landing on the ruler, or add a flight in the card.",
      );
    const player = makePlayer(under);
    const plan = flightPlan(under, fresh, player);
    if (!plan)
      throw new KneaderError("nothing-in-scope", `Flight: ${whatFlies(shot, told)} cannot be moved.`, "Choose a control with moves.");
    const { after, pass, later } = withFlights(shot, chosen, told, plan);
    const held = pass.members?.find((key) => shot.locked.includes(key)) ?? shot.locked.find((key) => moved(plan).includes(key));
    if (held !== undefined)
      throw new KneaderError("locked", `Flight: ${channelTitle(shot.rig, held)} is locked, and the flight moves it.`, "Unlock it first.");
    await context.breathe(0.5);
    const notes = sayFlights(after, plan);
    const first = plan.planned[0].told.takeOff;
    const stays = shot.rig.controls.filter((control) => isScenery(control) && movesAfter(shot, control, first));
    if (later !== 0 && stays.length > 0) notes.push(`${listed(stays.map(({ name }) => name))}: set and camera keep their frames.`);
    const warnings: string[] = [];
    const isSilent = !pass.solo && shot.passes.some(({ solo, on }) => solo && on);
    if (isSilent) warnings.push("Another pass is on solo, so the flight is not heard until that ends.");
    if (told.flies === "mass" && !massesOf(shot.rig).isKnown)
      warnings.push("This figure has no two legs and arms that could be told, so each bone is taken to weigh as it is long.");
    if (!context.firstLook && !isSilent) {
      const off = worstOff(after, pass, plan);
      const limit = OFF * Math.max(...plan.planned.map(({ arc }) => arc.height), 1e-3);
      if (off.distance > limit)
        warnings.push(
          `At frame ${off.frame} it is ${sayLength(after, off.distance)} beside its arc: ${told.keys === "every" && told.step === 1 ? "a constraint or another pass holds a part of it" : "its few keys do not follow it closer"}.`,
        );
    }
    const count = countedWord(plan.planned.length, "flight");
    return outcome(
      shot,
      after,
      `${chosen ? "Changed" : "Added"} ${count}${later === 0 ? "" : `; what comes after is ${countedWord(Math.abs(later), "frame")} ${later > 0 ? "later" : "earlier"}`}`,
      {
        notes,
        warnings,
      },
    );
  },
};

/** A shot with a pass of planned flights, the chosen one changed or a new one on top; `later` is by how many frames the end comes later. */
export function withFlights(
  shot: Shot,
  chosen: Pass | undefined,
  told: FlightSettings,
  plan: FlightPlan,
): { after: Shot; pass: Pass; later: number } {
  const { turner } = plan.flown;
  const flights = settled(plan.planned);
  const later = laterBy(flights);
  const before = chosen ? laterBy(flightOf(chosen).flights) : 0;
  const end = Math.max(shot.range.start + 1, shot.range.end - Math.max(0, before) + Math.max(0, later));
  const own = [...moved(plan), ...(told.turns && turner ? rotateChannels.map((channel) => channelKey(turner.id, channel)) : [])];
  // Where nothing comes later only what flies is touched; else all that moves is played later.
  const members = flights.some((flight) => laterBy([flight]) !== 0) ? null : own;
  const pass: Pass = { ...(chosen ?? freshPass(shot, flightPass, "Flight")), members, settings: { ...told, flights } };
  const passes = chosen ? shot.passes.map((one) => (one.id === chosen.id ? pass : one)) : [...shot.passes, pass];
  return { after: { ...shot, passes, range: { ...shot.range, end }, unitMetres: shot.unitMetres ?? (told.unit || null) }, pass, later };
}

/** The channels that are moved for what flies. */
const moved = ({ flown }: FlightPlan) => flown.movers.flatMap(({ id }) => moveChannels.map((channel) => channelKey(id, channel)));

/** Does base motion change a control after a frame? */
function movesAfter({ base }: Shot, { id, channels }: Control, frame: number): boolean {
  return channels.some((channel) => {
    const curve = base[channelKey(id, channel)];
    return curve?.times.some((time, n) => time > frame && n > 0 && curve.values[n] !== curve.values[n - 1]) ?? false;
  });
}

/** The pass of flights that is worked on. */
export const chosenFlight = (shot: Shot, { layer }: Scope): Pass | undefined =>
  shot.passes.find(({ id, kind }) => id === layer && kind === flightPass.id);

/** The shot that is below a pass of flights, or below a new one: with all there is. */
export function belowOf(shot: Shot, pass: Pass | undefined): Shot {
  return pass ? { ...shot, passes: shot.passes.slice(0, shot.passes.indexOf(pass)) } : shot;
}

function proposed({ shot, scope, pickedPoses = [] }: Situation): Partial<FlightSettings> {
  const chosen = chosenFlight(shot, scope);
  if (chosen) return flightOf(chosen);
  const picked = [...pickedPoses].sort((a, b) => a - b);
  const range = scope.range ?? (picked.length > 1 ? { start: picked[0], end: picked[picked.length - 1] } : null);
  const found = findFlights(shot, range ?? shot.range);
  const spans = found.length > 0 ? found : range ? [range] : [];
  const along = spans.length > 0 ? carriedProps(shot, spans[0]) : [];
  const control = scope.controls?.[scope.controls.length - 1];
  const isThing = control !== undefined && controlById(shot.rig, control)?.role === "prop";
  return {
    flights: spans.map(({ start, end }) => flightOver(start, end)),
    along: isThing ? [] : along,
    ...(isThing ? { flies: "control" as const, control } : {}),
  };
}

function whatFlies({ rig }: Shot, { flies, control, flights }: FlightSettings): string {
  const who = flies === "mass" ? "the centre of mass" : (controlById(rig, control)?.name ?? "no control");
  const frames = flights.map(({ takeOff, landing }) => `${takeOff}–${landing}`);
  return frames.length === 0 ? who : `${who}, frames ${frames.length > 3 ? `${frames.slice(0, 3).join(", ")} …` : frames.join(", ")}`;
}

/** What each flight comes to, in words. */
function sayFlights(shot: Shot, { planned }: FlightPlan): string[] {
  const earth = STANDARD_GRAVITY / (shot.unitMetres ?? 1);
  return planned.map(({ told, arc, bounces }) => {
    const strong = arc.gravity / earth;
    const gravity = Math.abs(strong - 1) < 5e-3 ? "" : `, ${Number(strong.toPrecision(2))} × the earth's gravity`;
    const was = arc.to.frame === told.landing ? "" : ` (was ${told.landing})`;
    const more = bounces.length > 0 ? `, ${countedWord(bounces.length, "bounce")}` : "";
    return `${arc.from.frame} to ${arc.to.frame}${was}: ${countedWord(arc.to.frame - arc.from.frame, "frame")} in the air, top ${sayLength(shot, arc.height)} up${gravity}${more}.`;
  });
}

/** How far what flies is from its arc at worst, at whole frames, as all plays together up to the pass. */
function worstOff(shot: Shot, pass: Pass, { flown, planned }: FlightPlan): { distance: number; frame: number } {
  const upTo = shot.passes.slice(0, shot.passes.findIndex(({ id }) => id === pass.id) + 1);
  const player = makePlayer({ ...shot, passes: upTo });
  let worst = { distance: 0, frame: 0 };
  for (const { arc, bounces } of planned)
    for (const one of [arc, ...bounces])
      for (let frame = one.from.frame; frame <= one.to.frame; frame++) {
        player.pose(frame);
        const [at, wanted] = [flown.place(player.worlds), placeOn(one, frame)];
        const distance = Math.hypot(at[0] - wanted[0], at[1] - wanted[1], at[2] - wanted[2]);
        if (distance > worst.distance) worst = { distance, frame };
      }
  return worst;
}
