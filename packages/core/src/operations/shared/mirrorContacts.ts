import { addConstraint } from "../../constraints/addConstraint.ts";
import { freshTie } from "../../constraints/freshTie.ts";
import { hingeOf } from "../../constraints/limbOf.ts";
import { type Contact, plant, type PlantSettings } from "../../constraints/plant.ts";
import { constantCurve } from "../../curve/make.ts";
import { endWorlds, placeOver } from "../../evaluate/endWorlds.ts";
import { atOnce } from "../../inPieces.ts";
import { makePlayer, type Player } from "../../evaluate/makePlayer.ts";
import { channelKey, controlById } from "../../model/rig.ts";
import { type Constraint, type FrameRange, type Shot, withConstraint } from "../../model/shot.ts";

/** Frames at which a limb's bend is looked at. */
const LOOKS = 24;

/**
 * Contacts of planted ends taken over to their partners with the motion that was mirrored: `after` is the shot with that
 * motion, `from` the frames it came from, `by` how many later it is. In place, both sides change over; else they are added.
 * Each stands where the mirrored motion has it.
 */
export function mirrorContacts(after: Shot, from: FrameRange, by: number, inPlace: boolean, isMoved: (control: string) => boolean): Shot {
  const plants = after.constraints.filter(({ kind, on }) => kind === plant.id && on);
  if (plants.length === 0) return after;
  const told = (one: Constraint) => one.settings as PlantSettings;
  const free = { ...after, constraints: after.constraints.filter((one) => one.kind !== plant.id) };
  const player = makePlayer(free);
  const isIn = ({ start, end }: Contact) => start >= from.start - 1e-6 && end <= from.end + 1e-6;
  let shot = after;
  // In place what was there goes first, so that what comes over is not taken for it.
  if (inPlace)
    for (const one of plants)
      if (told(one).limb.some(isMoved))
        shot = withContacts(
          shot,
          one,
          told(one).contacts.filter((contact) => !isIn(contact)),
        );
  for (const one of plants) {
    const { limb } = told(one);
    if (!limb.some(isMoved)) continue;
    const others = limb.map((id) => controlById(after.rig, id)?.partner ?? null);
    if (others.some((id, n) => id === null || id === limb[n])) continue;
    const coming = told(one)
      .contacts.filter(isIn)
      .map((contact) => placed(player, others.at(-1) as string, told(one).ground, contact, by));
    if (coming.length === 0) continue;
    const there = shot.constraints.find(
      ({ kind, settings }) => kind === plant.id && (settings as PlantSettings).limb.at(-1) === others.at(-1),
    );
    const held = there
      ? told(there).contacts.filter((contact) => coming.every(({ start, end }) => contact.end < start || contact.start > end))
      : [];
    const contacts = [...held, ...coming].sort((a, b) => a.start - b.start);
    shot = there ? withContacts(shot, there, contacts) : added(shot, player, one, others as string[], contacts);
  }
  return shot;
}

function withContacts(shot: Shot, { id }: Constraint, contacts: readonly Contact[]): Shot {
  return withConstraint(shot, id, (one) => ({ ...one, settings: { ...one.settings, contacts } }));
}

/** A contact so many frames later, where the end of the other side stands there. */
function placed(player: Player, end: string, ground: string | null, contact: Contact, by: number): Contact {
  const span = { start: Math.round(contact.start + by), end: Math.round(contact.end + by) };
  const worlds = atOnce(endWorlds(player, end, ground, span));
  // At an end of the shot it came or went at once; elsewhere it takes as long as on its other side.
  const { easeIn, easeOut } = contact;
  const eases = by === 0 ? { easeIn, easeOut } : { easeIn: easeIn || easeOut, easeOut: easeOut || easeIn };
  return { ...eases, start: contact.start + by, end: contact.end + by, place: placeOver(worlds, span.start, span) };
}

function added(shot: Shot, player: Player, like: Constraint, limb: readonly string[], contacts: readonly Contact[]): Shot {
  const end = limb[limb.length - 1];
  const id = freshTie(shot, `plant-${end}`);
  const { start, end: last } = shot.range;
  const frames = Array.from({ length: LOOKS + 1 }, (_, n) => start + ((last - start) * n) / LOOKS);
  return addConstraint(shot, {
    ...like,
    id,
    name: `${controlById(shot.rig, end)?.name ?? end} planted`,
    settings: { ...like.settings, limb, hinge: hingeOf(player, limb, frames), contacts },
    curves: { [channelKey(id, "strength")]: constantCurve(1, start) },
  });
}
