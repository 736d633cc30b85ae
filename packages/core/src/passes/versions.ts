import { KneaderError } from "../errors.ts";
import { freshId } from "../model/freshId.ts";
import type { Shot, Version } from "../model/shot.ts";

/** Keep the present state of the passes under a name; a version of that name is replaced. */
export function keepVersion(shot: Shot, name: string): { shot: Shot; version: Version } {
  const title = name.trim();
  if (title === "") throw new KneaderError("bad-setting", "A version needs a name.");
  const before = shot.versions.find((version) => version.name === title);
  const version: Version = {
    id: before?.id ?? freshId("version"),
    name: title,
    passes: Object.fromEntries(shot.passes.map(({ id, on, solo, weight }) => [id, { on, solo, weight }])),
  };
  const versions = before ? shot.versions.map((one) => (one === before ? version : one)) : [...shot.versions, version];
  return { shot: { ...shot, versions }, version };
}

/** The shot with its passes as a version has them. */
export function inVersion(shot: Shot, id: string): Shot {
  const version = shot.versions.find((one) => one.id === id);
  if (!version) throw new KneaderError("not-found", "The shot has no such version any more.");
  return {
    ...shot,
    passes: shot.passes.map((pass) => {
      const state = version.passes[pass.id];
      if (!state) return pass.on || pass.solo ? { ...pass, on: false, solo: false } : pass;
      return state.on === pass.on && state.solo === pass.solo && state.weight === pass.weight ? pass : { ...pass, ...state };
    }),
  };
}

/** The version that is how the passes stand now, if one is. */
export function presentVersion(shot: Shot): Version | undefined {
  return shot.versions.find(({ id }) => inVersion(shot, id).passes.every((pass, i) => pass === shot.passes[i]));
}

export function removeVersion(shot: Shot, id: string): Shot {
  return { ...shot, versions: shot.versions.filter((version) => version.id !== id) };
}
