import type { Option } from "../arguments/parse.ts";
import type { Parsed } from "../arguments/parse.ts";
import type { Answer, Talk } from "../result.ts";

/** One command of the command line. */
export interface Command {
  readonly name: string;
  /** What stands after its name. */
  readonly takes: string;
  /** One sentence. */
  readonly help: string;
  readonly more?: readonly string[];
  readonly example: string;
  readonly options: readonly Option[];
  run(given: Parsed, talk: Talk): Promise<Answer>;
}

export const overwrite: Option = { name: "overwrite", help: "The result may take the place of the file that is read." };
export const from: Option = {
  name: "from",
  takes: "EXT",
  help: 'What standard input holds, where IN is "-": json, glb, gltf, bvh or csv.',
};
export const to: Option = {
  name: "to",
  takes: "EXT",
  help: 'What standard output gets, where OUT is "-"; the report goes to standard error.',
};
