// npm run corpus: does every operation and format still make, to the last bit, what it made when the marks were kept?
// npm run corpus -- --keep: keep the marks as they are now. npm run corpus -- 7: run one case in seven.
import { writeFileSync } from "node:fs";
import { runCorpus } from "./corpus.ts";
import { readCorpus } from "./files.ts";

const oneIn = Number(process.argv[2]) || 1;
const { files, kept, keptAt } = readCorpus(process.cwd());
const marks = await runCorpus(files, { oneIn, say: console.log });
const names = [...new Set([...(oneIn === 1 ? Object.keys(kept) : []), ...Object.keys(marks)])];
const others = names.filter((name) => kept[name] !== marks[name]);
for (const name of others) console.log(`other: ${name}: ${kept[name] ?? "not there before"} → ${marks[name] ?? "gone"}`);
console.log(`${names.length} cases, ${others.length} other than kept`);
if (process.argv.includes("--keep")) writeFileSync(keptAt, `${JSON.stringify(marks, null, 1)}\n`);
else process.exit(others.length === 0 ? 0 : 1);
