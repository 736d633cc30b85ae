import {
  type Action,
  captureClip,
  channelsMeant,
  EVERYTHING,
  formatOf,
  freshId,
  KneaderError,
  type NamedFile,
  readShot,
  recognise,
  type Shot,
  withAbout,
} from "@kneader/core";

/** An action of what a shot does, whole. */
export function actionOfShot(shot: Shot, card: { name: string; notes: string; folder: string; savedAt?: number }): Action {
  return withAbout({
    card: { id: freshId("action"), tags: [], savedAt: Date.now(), ...card },
    clip: captureClip(shot, channelsMeant(shot, EVERYTHING), shot.range),
  });
}

const plainName = (name: string) => name.replace(/\.[a-z0-9]+$/i, "");

/**
 * Every animation of a file as an action of its own; of a file without several, what it does. Errors: those of
 * `readShot`, and `nothing-in-scope` where nothing moves.
 */
export async function openActions(file: NamedFile, folder: string): Promise<Action[]> {
  const { list } = formatOf(file.name);
  const listed = list ? await list(recognise(file).file) : [];
  const notes = `From ${file.name}`;
  if (listed.length === 0) {
    const { shot } = await readShot(file.bytes, file.name, file.beside);
    if (Object.keys(shot.base).length === 0)
      throw new KneaderError("nothing-in-scope", "Nothing moves in this file.", "Choose one with an animation.");
    return [actionOfShot(shot, { name: plainName(file.name), notes, folder })];
  }
  const actions: Action[] = [];
  for (const [animation, { name }] of listed.entries()) {
    const { shot } = await readShot(file.bytes, file.name, file.beside, { animation });
    actions.push(
      actionOfShot(shot, { name: name || `${plainName(file.name)} ${animation + 1}`, notes, folder, savedAt: Date.now() + animation }),
    );
  }
  return actions;
}
