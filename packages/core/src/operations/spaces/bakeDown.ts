import { z } from "zod";
import { activeConstraints } from "../../constraints/activeConstraints.ts";
import { constraintKind } from "../../constraints/kinds.ts";
import { carry, type CarrySettings } from "../../constraints/carry.ts";
import { tiesOf } from "../../constraints/ledControls.ts";
import { withoutMade } from "../../constraints/withoutMade.ts";
import { plant } from "../../constraints/plant.ts";
import { space, spaceFrame } from "../../constraints/space.ts";
import { switchesOf, withSwitches } from "../../constraints/spaces.ts";
import { unionOfTimes } from "../../curve/timeRows.ts";
import { rideSlots } from "../../evaluate/rideAlong.ts";
import { inPieces } from "../../inPieces.ts";
import { measureDriftInPieces } from "../../evaluate/drift.ts";
import { KneaderError } from "../../errors.ts";
import { channelKey, channelTitle, type Control, controlById, splitChannelKey, transformChannels } from "../../model/rig.ts";
import type { Constraint, Shot } from "../../model/shot.ts";
import { activePasses } from "../../passes/active.ts";
import { changedBy } from "../../passes/members.ts";
import { listed } from "../../words.ts";
import type { Operation, Scope } from "../operation.ts";
import { controlsMeant, isWhole, outcome } from "../shared/scope.ts";
import { bakeSpan } from "./bakeSpan.ts";
import { bakeMatrices } from "./bakeMatrices.ts";
import { fewestKeys, fewestSettings } from "./fewestKeys.ts";
import { partOf } from "../shared/partOf.ts";
import { IN_PARENT, spaceMeant, spaceSetting } from "./spaceSetting.ts";
import { withoutCarrier } from "./standOn.ts";
import { looksOf, sayBound, withinBound } from "./withinBound.ts";
import { withoutPasses } from "./withoutPasses.ts";

const settings = z.object({
  what: z
    .enum(["ties", "all"])
    .default("ties")
    .meta({
      title: "Bakes",
      labels: { ties: "Constraints, spaces, carriers", all: "All that moves them, passes and timing too" },
      help: "What was baked is in the keys of base motion afterwards.",
    }),
  into: spaceSetting(
    "Into the space of",
    IN_PARENT,
    "What the keys are relative to afterwards; in the world a control is taken out of what it hangs on, its movement kept.",
  ),
  keys: z
    .enum(["fewest", "existing", "every"])
    .default("fewest")
    .meta({ title: "Keys", labels: { fewest: "Fewest within the tolerance", existing: "On the keys there are", every: "On every frame" } }),
  ...fewestSettings,
  afterwards: z
    .enum(["off", "removed"])
    .default("off")
    .meta({ title: "What was baked is", labels: { off: "Switched off and kept", removed: "Removed" } }),
});

/** Turn whatever moves controls into plain keys on them. */
export const bakeDown: Operation<z.infer<typeof settings>> = {
  id: "bake-down",
  title: "Bake down",
  group: "Spaces",
  help: "Turns what constraints, spaces and carriers (on wish passes and timing too) make of the picked controls, or of all, into plain keys on them.",
  guide: {
    use: "Gives a held thing keys of its own; takes a carrier out, its movement kept; makes plain turns of a reach; hands over what only keys can say.",
    watch:
      "With keys on every frame nothing differs at any; the fewest keys keep turns and places within what is said at each. The drift is measured at every quarter of a frame, its worst place one click away. With a marked range only that is baked, and outside it everything is as it was.",
  },
  words:
    "constraint parent attach put hand prop space keys aim pin glue world hold detach release follow plant reach carrier flatten collapse unparent plain fk",
  suits: [],
  leaves: ["layer"],
  saysRounds: true,
  settings,
  needs: ["something that is led"],
  saysScope: (shot, scope, s) => listed(meant(shot, scope, s.what === "all", s.into !== IN_PARENT).controls.map(({ name }) => name)),
  async run(shot, scope, s, context) {
    const { controls, ties, carriers } = meant(shot, scope, s.what === "all", s.into !== IN_PARENT);
    const names = listed(controls.map(({ name }) => name));
    refuseHeld(shot, controls);
    const passes = s.what === "all" ? [] : activePasses(shot).filter((pass) => changedBy(shot, pass).some(isOf(controls)));
    if (passes.length > 0)
      throw new KneaderError(
        "bad-setting",
        `Bake down: pass "${passes[0].name}" also moves ${nameOf(shot, splitChannelKey(changedBy(shot, passes[0]).find(isOf(controls)) as string).control)}.`,
        "Bake all that moves them, or switch off that pass first.",
      );
    const span = partOf(shot, scope.range);
    const whole = { start: Math.floor(shot.range.start), end: Math.ceil(shot.range.end) };
    const { start, end } = span ?? whole;
    const every = Float64Array.from({ length: end - start + 1 }, (_, n) => start + n);
    const times = s.keys === "existing" ? existingTimes(shot, controls, ties) : every;
    const isDense = s.keys !== "existing";
    let after: Shot;
    let silenced: string[] = [];
    if (span) {
      if (s.what === "all")
        throw new KneaderError("bad-setting", "Bake down: passes and timing are baked over the whole shot.", "Clear the range.");
      const inside = [start, ...times.filter((time) => time > start && time < end), end];
      const told = { controls, ties, span, times: inside, isDense, into: controls.map((control) => intoOf(shot, control, s.into)) };
      after = await inPieces(bakeSpan(shot, told), (share) => context.breathe(0.5 * share));
    } else {
      const left = stillSilent(shot, freed(shot, controls, ties, s));
      after = left.shot;
      silenced = left.names;
      if (s.what === "all") after = withoutPasses(after, controls);
      const jumps = new Set(
        controls.flatMap(({ id }) =>
          switchesOf(shot, id)
            .slice(1)
            .map(({ frame }) => frame),
        ),
      );
      const frames = controls.map((control) => spaceFrame(shot.rig, control.id, intoOf(shot, control, s.into)));
      after = await inPieces(bakeMatrices(shot, after, { controls, times, isDense, jumps, frames }), (share) =>
        context.breathe(0.5 * share),
      );
    }
    let holds = true;
    if (s.keys === "fewest") {
      const exact = after;
      const channels = controls.flatMap(({ id }) => transformChannels.map((channel) => channelKey(id, channel)));
      // The last key of a part holds, and stays.
      const inside = { start, end: span ? end - 1 : end };
      const told = { ...context, breathe: (share: number) => context.breathe(0.5 + 0.3 * share) };
      ({ shot: after, holds } = await withinBound(shot, s, (tolerance) => fewestKeys(exact, channels, inside, tolerance, told), told));
    }
    if (s.afterwards === "removed" && !span) {
      for (const id of carriers) after = withoutCarrier(after, id);
      after = withoutMade(after, ties);
    }
    const drift = context.firstLook
      ? null
      : await measureDriftInPieces(shot, after, shot.range, (share) => context.breathe(0.8 + 0.2 * share), looksOf(s.keys));
    const led = ties.map(({ name }) => name);
    const become = span ? `Without a say over frames ${start} to ${end}` : s.afterwards === "off" ? "Off afterwards" : "Removed";
    const notes = led.length > 0 ? [`${become}: ${listed(led)}.`] : [];
    const warnings = s.keys === "fewest" && !holds ? sayBound(shot, s, drift, holds) : [];
    if (s.keys === "fewest" && holds) notes.push(...sayBound(shot, s, drift, holds));
    const here = new Set(after.rig.controls.map(({ id }) => id));
    const taken = shot.rig.controls.filter(({ id }) => !here.has(id)).map(({ name }) => name);
    if (taken.length > 0) notes.push(`Gone with what made them: ${listed(taken)}.`);
    if (silenced.length > 0) notes.push(`Without a say beside what was alone, and off now so that it stays so: ${listed(silenced)}.`);
    const hanging = hangersOn(shot, controls, ties);
    if (hanging.length > 0) notes.push(`Goes along with them as before: ${listed(hanging)}.`);
    return outcome(
      shot,
      after,
      `Baked ${names} to ${s.keys === "every" ? "keys on every frame" : s.keys === "existing" ? "keys on their frames" : "the fewest keys"}`,
      { drift, notes, warnings },
    );
  },
};

const nameOf = (shot: Shot, id: string) => controlById(shot.rig, id)?.name ?? id;
const isOf = (controls: readonly Control[]) => (key: string) => controls.some(({ id }) => splitChannelKey(key).control === id);

/** The controls that are baked, those above first, with what leads them. Errors: `nothing-in-scope`. */
function meant(shot: Shot, scope: Scope, withPasses: boolean, elsewhere: boolean) {
  const active = activeConstraints(shot);
  // With the row of a constraint chosen that one is meant.
  const chosen = active.find(({ id }) => id === scope.layer);
  const everyone = !chosen && isWhole(scope);
  const wanted = new Set(
    chosen ? tiesOf(chosen).writes : everyone ? shot.rig.controls.map(({ id }) => id) : pickedOrWhatReaches(shot, scope, active),
  );
  // A carrier that is picked stands for what it carries.
  const carried = (one: Constraint) =>
    one.kind === carry.id && wanted.has((one.settings as CarrySettings).carrier) ? tiesOf(one).writes : [];
  for (const one of active) for (const id of carried(one)) wanted.add(id);
  // Ends that stand on a carrier go with it.
  const carriersMeant = active
    .filter((one) => one.kind === carry.id && tiesOf(one).writes.some((id) => wanted.has(id)))
    .flatMap((one) => tiesOf(one).reads);
  for (const one of active)
    if (one.kind === plant.id && tiesOf(one).reads.some((id) => carriersMeant.includes(id)))
      for (const id of tiesOf(one).writes) wanted.add(id);
  // What is led together, as a limb is, is baked together.
  const ties = active.filter((one) => tiesOf(one).writes.some((id) => wanted.has(id)));
  const led = new Set(ties.filter(({ kind }) => kind !== carry.id).flatMap((one) => tiesOf(one).writes));
  for (const one of ties) if (one.kind === carry.id) for (const id of tiesOf(one).writes) if (wanted.has(id)) led.add(id);
  if (withPasses) for (const pass of activePasses(shot)) for (const key of changedBy(shot, pass)) led.add(splitChannelKey(key).control);
  rideSlots(shot, activePasses(shot)).forEach((slot, i) => {
    if (slot && withPasses) led.add(shot.rig.controls[i].id);
  });
  if (elsewhere && !everyone) for (const id of wanted) led.add(id);
  const controls = shot.rig.controls.filter(
    ({ id }) => led.has(id) && (wanted.has(id) || ties.some((one) => tiesOf(one).writes.includes(id))),
  );
  if (controls.length === 0)
    throw new KneaderError(
      "nothing-in-scope",
      "Bake down: nothing leads what is in scope.",
      "Pick a control that follows, reaches, is carried or lives in a space, or choose a space to bake it into.",
    );
  const carriers = ties.filter(({ kind }) => kind === carry.id).map((one) => (one.settings as CarrySettings).carrier);
  return { controls, ties, carriers };
}

/** The picked controls; a goal or bend control that nothing leads stands for the limb that reaches for it. */
function pickedOrWhatReaches(shot: Shot, scope: Scope, active: readonly Constraint[]): string[] {
  const picked = [...controlsMeant(shot, scope)];
  const isLed = (id: string) => active.some((one) => tiesOf(one).writes.includes(id));
  const free = new Set(picked.filter((id) => !isLed(id)));
  const reaching = active.filter((one) =>
    tiesOf(one).writes.some((id) => free.has(constraintKind(one.kind)?.pulledFor?.(one.settings, id) ?? "")),
  );
  return [...picked, ...reaching.flatMap((one) => tiesOf(one).writes)];
}

function refuseHeld(shot: Shot, controls: readonly Control[]): void {
  const held = shot.locked.find(isOf(controls));
  if (held !== undefined)
    throw new KneaderError("locked", `Bake down: ${channelTitle(shot.rig, held)} is locked, and would get other keys.`, "Unlock it first.");
}

/** The shot with nothing leading the controls but the space they are baked into. */
function freed(shot: Shot, controls: readonly Control[], ties: readonly Constraint[], s: z.infer<typeof settings>): Shot {
  const ids = controls.map(({ id }) => id);
  let after: Shot = {
    ...shot,
    constraints: shot.constraints.flatMap((one): Constraint[] => {
      if (!ties.includes(one)) return [one];
      if (one.kind === carry.id) {
        // What is carried besides is carried on.
        const told = one.settings as CarrySettings;
        const left = told.controls.filter((id) => !ids.includes(id));
        if (left.length > 0) return [{ ...one, settings: { ...told, controls: left } }];
      }
      return s.afterwards === "removed" ? [] : [{ ...one, on: false, ...(one.solo ? { solo: false } : {}) }];
    }),
  };
  if (s.into === IN_PARENT) return after;
  for (const control of controls) {
    const into = spaceMeant(shot, control, s.into);
    if (into === control.id) continue;
    after = { ...after, constraints: after.constraints.filter((one) => one.kind !== space.id || !tiesOf(one).writes.includes(control.id)) };
    after = withSwitches(after, control.id, [{ frame: Number.NEGATIVE_INFINITY, space: into }]);
  }
  return after;
}

/** What was silent beside one alone is switched off once no such one is left, or it would lead all at once. */
function stillSilent(before: Shot, after: Shot): { shot: Shot; names: string[] } {
  const heard = new Set(activeConstraints(before).map(({ id }) => id));
  const silent = before.constraints.filter((one) => one.on && !heard.has(one.id));
  if (silent.length === 0 || after.constraints.some(({ on, solo }) => on && solo)) return { shot: after, names: [] };
  const isSilent = (one: Constraint) => silent.some(({ id }) => id === one.id);
  const constraints = after.constraints.map((one) => (isSilent(one) ? { ...one, on: false } : one));
  return { shot: { ...after, constraints }, names: silent.map(({ name }) => name) };
}

/** What a control's keys are relative to afterwards; not to itself. */
function intoOf(shot: Shot, control: Control, into: string): string | null {
  const meantIn = spaceMeant(shot, control, into);
  return meantIn === control.id ? control.parent : meantIn;
}

/** The frames with keys of the controls, of what leads them, of what that looks at with all it hangs on, and both sides of every switch. */
function existingTimes(shot: Shot, controls: readonly Control[], ties: readonly Constraint[]): Float64Array {
  const seen = new Set(controls.map(({ id }) => id));
  for (const target of ties.flatMap((one) => tiesOf(one).reads))
    for (let id: string | null = target; id !== null; id = controlById(shot.rig, id)?.parent ?? null) seen.add(id);
  const rows = Object.entries(shot.base)
    .filter(([key]) => seen.has(splitChannelKey(key).control))
    .map(([, { times }]) => times);
  for (const { curves } of activePasses(shot))
    for (const [key, { times }] of Object.entries(curves)) if (seen.has(splitChannelKey(key).control)) rows.push(times);
  for (const one of ties) rows.push(...Object.values(one.curves).map(({ times }) => times));
  const switches = controls.flatMap(({ id }) =>
    switchesOf(shot, id)
      .slice(1)
      .flatMap(({ frame }) => [frame - 1, frame]),
  );
  const contacts = ties.flatMap(({ settings: told }) =>
    ((told.contacts ?? []) as { start: number; end: number; easeIn: number; easeOut: number }[]).flatMap((c) => [
      c.start - c.easeIn,
      c.start,
      c.end,
      c.end + c.easeOut,
    ]),
  );
  rows.push(Float64Array.from([...new Set([...switches, ...contacts, shot.range.start, shot.range.end])]).sort());
  return unionOfTimes(rows);
}

/** Names of what looks at a control that is baked. */
function hangersOn(shot: Shot, controls: readonly Control[], ties: readonly Constraint[]): string[] {
  const ids = new Set(controls.map(({ id }) => id));
  return activeConstraints(shot)
    .filter((one) => !ties.includes(one) && tiesOf(one).reads.some((id) => ids.has(id)))
    .map(({ name }) => name);
}
