import { freshId } from "../../model/freshId.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { BASE, type Pass, type Shot } from "../../model/shot.ts";
import { makePass } from "../../model/shotFields.ts";
import { freeName } from "../../passes/editPasses.ts";
import type { PassKind } from "../../passes/passKind.ts";
import type { Scope } from "../operation.ts";
import { channelsMeant, isWhole } from "../shared/scope.ts";

/** A new pass of a kind, with a name no other has: "Warp", "Warp 2" … */
export function freshPass(shot: Shot, kind: PassKind, name: string): Pass {
  return makePass(freshId("pass"), freeName(shot, name), kind.id);
}

/** What a new computed pass works on: the channels in scope, or null for the figure as a whole. */
export function membersOf(shot: Shot, scope: Scope): ChannelKey[] | null {
  if (isWhole(scope) && !scope.everything) return null;
  return channelsMeant(shot, { ...scope, layer: BASE });
}
