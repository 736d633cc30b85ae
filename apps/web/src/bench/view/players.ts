import { makePlayer, type Player, type Shot } from "@kneader/core";
import { Latest } from "../latest.ts";

const players = new Latest<Shot, Player>(24);

/** The player of a shot, made once while it is in use. Whoever reads poses it first and is done with it before anyone else can. */
export function playerFor(shot: Shot): Player {
  let player = players.get(shot);
  if (!player) {
    player = makePlayer(shot);
    players.set(shot, player);
  }
  return player;
}
