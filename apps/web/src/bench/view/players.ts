import { makePlayer, type Player, type Shot } from "@kneader/core";

const players = new WeakMap<Shot, Map<string, Player>>();

/** A player of a shot for one purpose (so that two readers never share a frame); kept while the shot lives. */
export function playerFor(shot: Shot, purpose: string): Player {
  let byPurpose = players.get(shot);
  if (!byPurpose) {
    byPurpose = new Map();
    players.set(shot, byPurpose);
  }
  let player = byPurpose.get(purpose);
  if (!player) {
    player = makePlayer(shot);
    byPurpose.set(purpose, player);
  }
  return player;
}
