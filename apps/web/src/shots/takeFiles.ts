import { type Action, checkFileSize, readAction, sayError, type Shot } from "@kneader/core";
import { shotDoor } from "../storage/kept.ts";
import { pantry } from "../storage/pantry.ts";
import { openCharacter } from "./openCharacter.ts";

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
 * Where only `wanted` "actions" are, whatever is none is refused as such. `progress` hears how many are done and is awaited, so that the page stays alive; it may throw to stop.
 */
export async function takeFiles(
  files: readonly File[],
  progress: (done: number) => Promise<void>,
  wanted: "any" | "actions" = "any",
): Promise<Taken> {
  const shots: { shot: Shot; notes: readonly string[] }[] = [];
  const actions: string[] = [];
  const failed: { file: string; why: string }[] = [];
  let onto: Action | null = null;
  const besides = new Map<string, Uint8Array>();
  const data = files.filter(({ name }) => isData(name));
  const others = files.filter(({ name }) => !isData(name));
  for (const file of data) if (others.length > 0) besides.set(file.name, new Uint8Array(await file.arrayBuffer()));
  const beside = (path: string) => besides.get(decodeURIComponent(path).replace(/^\.\//, "")) ?? null;
  const lot = others.length > 0 ? others : data;
  for (const [n, file] of lot.entries()) {
    await progress(n);
    try {
      checkFileSize(file.name, file.size);
      const bytes = new Uint8Array(await file.arrayBuffer());
      if (wanted === "actions" || isAction(file.name, bytes)) {
        const action: Action = readAction(bytes);
        await pantry.put(action);
        actions.push(action.card.id);
      } else {
        const opened = await openCharacter({ bytes, name: file.name, beside });
        shots.push(...opened.shots);
        if (opened.isOnto) onto = opened.actions[0] ?? onto;
        for (const action of opened.actions) {
          await pantry.put(action);
          actions.push(action.card.id);
        }
      }
    } catch (error) {
      failed.push({ file: file.name, why: sayError(error) });
    }
  }
  return { shots, actions, onto, failed };
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
