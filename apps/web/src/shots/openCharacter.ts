import { type Action, formatOf, type Imported, type NamedFile, type ReadChoices, readShot, recognise } from "@kneader/core";
import { currentDocument } from "../bench/documents.ts";
import { assets } from "../storage/kept.ts";
import { saySaveError } from "../storage/shotRecords.ts";
import { actionOfShot } from "./openActions.ts";
import { type Chosen, chooseAnimations } from "./animationChoice.ts";

/** What came of one file. */
export interface Opened {
  readonly shots: readonly Pick<Imported, "shot" | "notes">[];
  readonly actions: readonly Action[];
  /** The actions are to be laid on the shot that is open. */
  readonly isOnto: boolean;
}

const NOTHING: Opened = { shots: [], actions: [], isOnto: false };

/**
 * Read a file of shots; where it holds more than one could, or rest poses that differ, it is asked what to open. The file
 * a character came from is kept for all its shots. Errors: those of `readShot`.
 */
export async function openCharacter(file: NamedFile): Promise<Opened> {
  const asked = await questionOf(file);
  if (!asked) return { ...NOTHING, shots: [await readOne(file)] };
  const chosen = await chooseAnimations(asked);
  if (!chosen) return NOTHING;
  const { animations, rest } = chosen;
  const read: Imported[] = [];
  for (const animation of animations) read.push(await readShot(file.bytes, file.name, file.beside, { animation, rest }));
  if (animations.length === 0) read.push(await readShot(file.bytes, file.name, file.beside, { rest }));
  if (chosen.as === "shots") return { ...NOTHING, shots: await Promise.all(read.map(withAsset)) };
  return { ...NOTHING, actions: actionsOf(read, chosen, asked.animations), isOnto: chosen.as === "onto" };
}

/** What is to be asked of a file, or null where there is only one way to open it. */
async function questionOf(file: NamedFile) {
  const { list, rests } = formatOf(file.name);
  if (!list || !rests) return null;
  const known = recognise(file).file;
  const animations = await list(known);
  // The first frame may be chosen where it is asked anyway; it always differs.
  const found = await rests(known);
  if (animations.length < 2 && !found.includes("bind")) return null;
  return { file: file.name, animations, rests: found, open: currentDocument()?.name ?? null };
}

async function readOne({ bytes, name, beside }: NamedFile, choices?: ReadChoices) {
  return withAsset(await readShot(bytes, name, beside, choices));
}

/** Keep the file a shot came from; where that fails it is said, and the shot is opened all the same. */
async function withAsset({ shot, notes, asset }: Imported): Promise<Pick<Imported, "shot" | "notes">> {
  if (!shot.asset || !asset) return { shot, notes };
  try {
    await assets.keep(shot.asset.hash, asset);
    return { shot, notes };
  } catch (error) {
    return {
      shot,
      notes: [
        `The character's file could not be kept: ${saySaveError(error)} Its motion is here; the character is seen until this tab is closed.`,
        ...notes,
      ],
    };
  }
}

function actionsOf(read: readonly Imported[], { animations }: Chosen, listed: readonly { name: string }[]): Action[] {
  return read.map(({ shot }, n) =>
    actionOfShot(shot, {
      name: listed[animations[n]].name,
      notes: `From ${shot.asset?.name ?? "a file"}`,
      folder: "From files",
      savedAt: Date.now() + n,
    }),
  );
}
