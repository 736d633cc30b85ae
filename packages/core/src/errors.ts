/**
 * Every error the core can raise on purpose. A `KneaderError` says in one sentence what happened,
 * to what and where, and (when there is something to do) what the user can do about it.
 */
const errorCodes = {
  "file-empty": "The file holds nothing.",
  "file-too-large": "The file is larger than can be opened.",
  "file-unknown": "The file is of a kind that is not known here.",
  "bvh-syntax": "The BVH file is not written as it should be.",
  "bvh-numbers": "A frame of the BVH file has missing or wrong numbers.",
  "gltf-syntax": "The glTF file is not written as it should be.",
  "no-asset": "The file the character came from is not here.",
  "gltf-data": "The glTF file points at data it does not have.",
  "csv-syntax": "The CSV file is not written as it should be.",
  "json-syntax": "The JSON file is not written as it should be.",
  "shot-data": "What the file says cannot be played.",
  "newer-version": "The file was made by a newer Kneader.",
  "bad-capture": "A capture device sent something that cannot be used.",
  "bad-setting": "A setting is out of its range.",
  "nothing-in-scope": "There is nothing here for the operation to work on.",
  "no-match": "Nothing in the action matches this rig.",
  "not-found": "What was asked for is not in the shot.",
  locked: "What would be changed is locked.",
  "in-use": "Another tab is working on it.",
  cycle: "This would make a circle.",
  cancelled: "The work was cancelled.",
} as const;

export type ErrorCode = keyof typeof errorCodes;

export class KneaderError extends Error {
  override readonly name = "KneaderError";
  readonly code: ErrorCode;
  /** What the user can do about it; may be empty. */
  readonly remedy: string;

  constructor(code: ErrorCode, message: string, remedy = "") {
    super(message);
    this.code = code;
    this.remedy = remedy;
  }
}

/** The sentence to show a person for any thrown value. */
export function sayError(error: unknown): string {
  if (error instanceof KneaderError) return error.remedy ? `${error.message} ${error.remedy}` : error.message;
  return error instanceof Error ? error.message : String(error);
}
