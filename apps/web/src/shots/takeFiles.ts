import { type Action, checkFileSize, readAction, sayError, type Shot } from "@kneader/core";
import { shotDoor } from "../storage/kept.ts";
import { pantry } from "../storage/pantry.ts";
import { openActions } from "./openActions.ts";
import { besideIn } from "./besideIn.ts";
import { openCharacter } from "./openCharacter.ts";
import { type Given, unpack } from "./unpack.ts";

/** What came of files that were handed over. */
export interface Taken {
  readonly shots: readonly { readonly shot: Shot; readonly notes: readonly string[] }[];
  /** Ids of actions that are in the pantry now. */
  readonly actions: readonly string[];
  /** An action to be laid on the shot that is open. */
  readonly onto: Action | null;
  readonly failed: readonly { readonly file: string; readonly why: string }[];
}

const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes.subarray(0, 200));

/** An action's file says so near its beginning. */
function isAction(name: string, bytes: Uint8Array): boolean {
  return name.toLowerCase().endsWith(".json") && /"format"\s*:\s*"kneader-action"/.test(textOf(bytes));
}

/** Names that other files of the same lot name as their data. */
const isData = (name: string) => /\.(bin|png|jpe?g|webp|ktx2)$/i.test(name);

/**
 * Read files one after the other: shots and actions, whichever they are; a .gltf finds the files that came with it.
 * Where `wanted` are "actions", every animation of a file becomes one. `progress` hears the share that is done and is awaited, so that the page stays alive; it may throw to stop.
 */
export async function takeFiles(
  files: readonly File[],
  progress: (share: number) => Promise<void>,
  wanted: "any" | "actions" = "any",
): Promise<Taken> {
  const shots: { shot: Shot; notes: readonly string[] }[] = [];
  const actions: string[] = [];
  const failed: { file: string; why: string }[] = [];
  let onto: Action | null = null;
  const besides = new Map<Given, Uint8Array>();
  const given = await unpacked(files, failed);
  const data = given.filter(({ name }) => isData(name));
  const others = given.filter(({ name }) => !isData(name));
  for (const file of data) if (others.length > 0) besides.set(file, await file.bytes());
  const besideFor = besideIn(data, (file) => besides.get(file) ?? null);
  const lot = others.length > 0 ? others : data;
  const keep = async (action: Action) => {
    await pantry.put(action);
    actions.push(action.card.id);
  };
  for (const [n, file] of lot.entries()) {
    await progress(n / lot.length);
    try {
      checkFileSize(file.name, file.size);
      const bytes = await file.bytes();
      const beside = besideFor(file);
      if (isAction(file.name, bytes) || (wanted === "actions" && /\.json$/i.test(file.name))) await keep(readAction(bytes));
      else if (wanted === "actions")
        for (const action of await openActions({ bytes, name: file.name, beside }, file.folder || "From files")) await keep(action);
      else {
        const opened = await openCharacter({ bytes, name: file.name, beside });
        shots.push(...opened.shots);
        if (opened.isOnto) onto = opened.actions[0] ?? onto;
        for (const action of opened.actions) await keep(action);
      }
    } catch (error) {
      failed.push({ file: file.name, why: sayError(error) });
    }
  }
  return { shots, actions, onto, failed };
}

/** The files with those in zips in their place; a zip that cannot be read is told among what failed. */
async function unpacked(files: readonly File[], failed: { file: string; why: string }[]): Promise<Given[]> {
  const lots = await Promise.all(
    files.map((file, n) =>
      unpack(file, `${n} ${file.name}`).catch((error: unknown) => {
        failed.push({ file: file.name, why: sayError(error) });
        return [];
      }),
    ),
  );
  return lots.flat();
}

/** Keep a shot that is not opened now. */
export async function keepShot(shot: Shot): Promise<void> {
  const handle = await shotDoor.adopt(shot);
  try {
    await handle.save(shot);
  } finally {
    handle.release();
  }
}
