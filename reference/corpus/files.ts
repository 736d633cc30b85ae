import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { CorpusFiles, Marks } from "./corpus.ts";

/** What the corpus needs from the disk; `root` is the folder of the project. */
export function readCorpus(root: string): { readonly files: CorpusFiles; readonly kept: Marks; readonly keptAt: string } {
  const folder = join(root, "reference/corpus");
  const shots = readdirSync(join(folder, "shots")).map((name) => ({ name, path: join(folder, "shots", name) }));
  shots.push({ name: "cmu-01-01.bvh", path: join(root, "packages/core/test/fixtures/cmu-01-01.bvh") });
  const keptAt = join(folder, "marks.json");
  return {
    files: { shots: shots.map(({ name, path }) => ({ name, bytes: new Uint8Array(readFileSync(path)) })) },
    kept: JSON.parse(readFileSync(keptAt, "utf8")) as Marks,
    keptAt,
  };
}
