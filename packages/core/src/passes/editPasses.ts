import { KneaderError } from "../errors.ts";
import { type ChannelKey, controlById, splitChannelKey } from "../model/rig.ts";
import { type Pass, type Shot, withPass } from "../model/shot.ts";
import { passKind } from "./kinds.ts";
import { passMembers } from "./members.ts";

export function passOf(shot: Shot, id: string): Pass {
  const pass = shot.passes.find((one) => one.id === id);
  if (!pass) throw new KneaderError("not-found", `The shot has no pass "${id}".`);
  return pass;
}

/** A name no pass has: the one asked for, or with a number after it. */
export function freeName(shot: Pick<Shot, "passes">, name: string): string {
  const names = new Set(shot.passes.map((pass) => pass.name));
  let free = name;
  for (let count = 2; names.has(free); count++) free = `${name} ${count}`;
  return free;
}

/** A pass put right above another. */
function above(shot: Shot, id: string, pass: Pass): Shot {
  const at = shot.passes.findIndex((one) => one.id === id) + 1;
  return { ...shot, passes: [...shot.passes.slice(0, at), pass, ...shot.passes.slice(at)] };
}

/** The same pass once more (its id is `made`), above it and switched off, as an idea to work on. */
export function duplicatePass(shot: Shot, id: string, made: string): Shot {
  const pass = passOf(shot, id);
  const copy: Pass = { ...pass, id: made, name: freeName(shot, pass.name), on: false, solo: false, locked: false };
  return above(shot, id, copy);
}

/** Channels a pass no longer works on; a keyed pass loses its keys there. */
export function removeMembers(shot: Shot, id: string, channels: readonly ChannelKey[]): Shot {
  const pass = passOf(shot, id);
  const gone = new Set(channels);
  if (passKind(pass.kind)?.reads !== "keys")
    return withPass(shot, id, (p) => ({ ...p, members: passMembers(shot, pass).filter((key) => !gone.has(key)) }));
  return withPass(shot, id, (p) => ({ ...p, curves: Object.fromEntries(Object.entries(p.curves).filter(([key]) => !gone.has(key))) }));
}

/** Channels of a pass moved into a new one right above it, so that they can be dialled by themselves. */
export function splitPass(shot: Shot, id: string, channels: readonly ChannelKey[], made: string): Shot {
  const pass = passOf(shot, id);
  const taken = new Set(channels);
  const isKeyed = passKind(pass.kind)?.reads === "keys";
  const moved = isKeyed
    ? Object.keys(pass.curves).filter((key) => taken.has(key))
    : passMembers(shot, pass).filter((key) => taken.has(key));
  const all = isKeyed ? Object.keys(pass.curves).length : passMembers(shot, pass).length;
  if (moved.length === 0)
    throw new KneaderError("nothing-in-scope", `"${pass.name}" has nothing on what is picked.`, "Pick controls that the pass works on.");
  if (moved.length === all)
    throw new KneaderError("nothing-in-scope", `All of "${pass.name}" is picked; nothing would be left of it.`, "Pick a part of it.");
  const first = controlById(shot.rig, splitChannelKey(moved[0]).control)?.name ?? "part";
  const part: Pass = {
    ...pass,
    id: made,
    name: freeName(shot, `${pass.name}, ${first}`),
    locked: false,
    members: isKeyed ? null : moved,
    curves: isKeyed ? Object.fromEntries(moved.map((key) => [key, pass.curves[key]])) : pass.curves,
  };
  return above(removeMembers(shot, id, moved), id, part);
}

/** Passes that cannot change anything: keyed ones without keys, computed ones without members. */
export function emptyPasses(shot: Shot): Pass[] {
  return shot.passes.filter((pass) =>
    passKind(pass.kind)?.reads === "keys" ? Object.keys(pass.curves).length === 0 : passMembers(shot, pass).length === 0,
  );
}

/** Members of a pass that the rig does not have; they are kept, in case it has them again. */
export function strangeMembers(shot: Shot, pass: Pass): ChannelKey[] {
  const named = passKind(pass.kind)?.reads === "keys" ? Object.keys(pass.curves) : (pass.members ?? []);
  return named.filter((key) => !controlById(shot.rig, splitChannelKey(key).control));
}
