import { type Control, splitChannelKey } from "../../model/rig.ts";
import type { Pass, Shot } from "../../model/shot.ts";
import { passKind } from "../../passes/kinds.ts";
import { passMembers } from "../../passes/members.ts";

/** The shot with some controls taken out of all passes that are on; a pass that has nothing left is switched off. */
export function withoutPasses(shot: Shot, controls: readonly Control[]): Shot {
  const ids = new Set(controls.map(({ id }) => id));
  const stays = (key: string) => !ids.has(splitChannelKey(key).control);
  const freed = (pass: Pass): Pass => {
    if (!pass.on) return pass;
    if (passKind(pass.kind)?.reads === "keys") {
      const curves = Object.fromEntries(Object.entries(pass.curves).filter(([key]) => stays(key)));
      const left = Object.keys(curves).length;
      if (left === Object.keys(pass.curves).length) return pass;
      return left > 0 ? { ...pass, curves } : { ...pass, on: false };
    }
    const members = passMembers(shot, pass);
    const left = members.filter(stays);
    if (left.length === members.length) return pass;
    return left.length > 0 ? { ...pass, members: left } : { ...pass, on: false };
  };
  return { ...shot, passes: shot.passes.map(freed) };
}
