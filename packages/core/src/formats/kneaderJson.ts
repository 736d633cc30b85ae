import { KneaderError } from "../errors.ts";
import { freshId } from "../model/freshId.ts";
import type { Action } from "../model/action.ts";
import type { Shot } from "../model/shot.ts";
import { checkAction } from "./checkShot.ts";
import { decodeText, encodeText } from "./utf8.ts";
import type { Exported, Format, Imported } from "./format.ts";
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

export function writeKneader(shot: Shot): Exported {
  return { bytes: encodeText(JSON.stringify(shotToJson(shot))), notes: [] };
}

/** A shot file; the shot gets a new id, so that opening a file never replaces a shot that is there. */
export function readKneader(bytes: Uint8Array): Imported {
  return { shot: { ...shotFromJson(parseJson(bytes)), id: freshId("shot") }, notes: [] };
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
  read: readKneader,
  write: writeKneader,
};
