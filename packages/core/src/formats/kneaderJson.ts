import { fromByteArray, toByteArray } from "base64-js";
import { KneaderError } from "../errors.ts";
import { freshId } from "../model/freshId.ts";
import type { Action } from "../model/action.ts";
import type { Shot } from "../model/shot.ts";
import { checkAction } from "./checkShot.ts";
import { decodeText, encodeText } from "./utf8.ts";
import type { Exported, Format, Imported, ShotFile, WriteChoices } from "./format.ts";
import { hashOf } from "./hashOf.ts";
import { sayJsonError } from "./sayJsonError.ts";
import { actionFromJson, actionToJson, shotFromJson, shotToJson } from "./schema.ts";

function parseJson(bytes: Uint8Array): unknown {
  const text = decodeText(bytes);
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new KneaderError(
      "json-syntax",
      `The JSON cannot be read: ${sayJsonError(text, error)}.`,
      "The file was cut off or changed by hand.",
    );
  }
}

/** With the character's file inside where that is given; without, the shot is opened on the file kept in the browser, if it is there. */
export function writeKneader(shot: Shot, { asset }: WriteChoices = {}): Exported {
  const json = shotToJson(shot);
  if (!shot.asset) return { bytes: encodeText(JSON.stringify(json)), notes: [] };
  if (asset) return { bytes: encodeText(JSON.stringify({ ...json, asset: fromByteArray(asset) })), notes: [] };
  return {
    bytes: encodeText(JSON.stringify(json)),
    notes: [`The character's file ("${shot.asset.name}") is not inside: where it is not known the figure is drawn as a plain body.`],
  };
}

/** A shot file; the shot gets a new id, so that opening a file never replaces a shot that is there. */
export function readKneader({ bytes }: ShotFile): Imported {
  const json = parseJson(bytes);
  const shot = { ...shotFromJson(json), id: freshId("shot") };
  const inside = (json as { asset?: unknown }).asset;
  const asset = shot.asset && typeof inside === "string" ? (bytesOf(inside) ?? new Uint8Array()) : undefined;
  return { shot, notes: [], asset };
}

/** The character's file inside must be the one that the shot names. */
async function withKnownAsset({ shot, asset }: Imported): Promise<Imported> {
  if (!asset || (await hashOf(asset)) === shot.asset?.hash) return { shot, notes: [], asset };
  return { shot, notes: ["The character's file inside is damaged and was left out; the motion is whole."] };
}

function bytesOf(text: string): Uint8Array | null {
  try {
    return toByteArray(text);
  } catch {
    return null;
  }
}

export function writeAction(action: Action): Uint8Array {
  return encodeText(JSON.stringify(actionToJson(action)));
}

export function readAction(bytes: Uint8Array): Action {
  const { card, clip } = checkAction(actionFromJson(parseJson(bytes)));
  return { card: { ...card, id: freshId("action") }, clip };
}

/** Our own format: nothing is left out. */
export const kneaderJson: Format = {
  id: "json",
  title: "Kneader shot",
  extension: ".json",
  help: "Everything: keys, tangents, passes, constraints.",
  read: (file) => withKnownAsset(readKneader(file)),
  write: writeKneader,
};
