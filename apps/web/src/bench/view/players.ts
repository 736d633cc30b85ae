import { makePlayer, type Player, type Shot } from "@kneader/core";

const players = new WeakMap<Shot, Player>();

/** The player of a shot, made once. Whoever reads poses it first and is done with it before anyone else can. */
export function playerFor(shot: Shot): Player {
  let player = players.get(shot);
  if (!player) {
    player = makePlayer(shot);
    players.set(shot, player);
  }
  return player;
}
