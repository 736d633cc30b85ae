// Writes the example of a shared shelf from the demo: npx tsx scripts/exampleShelf.ts
import { mkdirSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { type Action, captureClip, channelKeysOf, type Shot, withAbout, writeAction } from "@kneader/core";
import { demoShots } from "@kneader/demo";

const DAY = 1790000000000;

const shotOf = async (name: string) => (await demoShots.find((one) => one.name === name)?.make()) as Shot;

function taken(shot: Shot, name: string, notes: string, tags: string[], folder: string): Action {
  const own = new Set(shot.rig.controls.filter(({ role }) => role === "figure").map(({ id }) => id));
  const channels = channelKeysOf(shot.rig).filter((key) => own.has(key.slice(0, key.lastIndexOf("."))));
  return {
    card: { id: name.toLowerCase().replaceAll(" ", "-"), name, notes, tags, folder, savedAt: DAY },
    clip: captureClip(shot, channels, shot.range),
  };
}

const root = fileURLToPath(new URL("../apps/server/example-shelf", import.meta.url));
const actions: Action[] = [
  taken(await shotOf("Half a walk"), "Half a walk", "One step; mirror it, or play it again from its end.", ["walk"], "On the jetty/Walks"),
  taken(await shotOf("Hop aboard"), "Hop aboard", "From the jetty onto the ferry, blocked on fives.", ["hop"], "On the jetty/Jumps"),
  taken(await shotOf("Waiting on board"), "Idle", "Waiting, and waiting; it loops.", ["idle", "loop"], "On the ferry"),
];
rmSync(root, { recursive: true, force: true });
for (const action of actions) {
  const folder = join(root, ...action.card.folder.split("/"));
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, `${action.card.name}.json`), writeAction(withAbout(action)));
}
