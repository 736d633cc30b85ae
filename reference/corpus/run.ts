// npm run corpus: does every operation and format still make, to the last bit, what it made when the marks were kept?
// npm run corpus -- --keep: keep the marks as they are now.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { runCorpus, type Marks } from "./corpus.ts";

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const read = (path: string) => new Uint8Array(readFileSync(at(path)));
const shots = readdirSync(at("./shots")).map((name) => ({ name, bytes: read(`./shots/${name}`) }));
shots.push({ name: "cmu-01-01.bvh", bytes: read("../../packages/core/test/fixtures/cmu-01-01.bvh") });

const marks = await runCorpus({ shots }, (name) => console.log(name));
const kept = at("./marks.json");
if (process.argv.includes("--keep")) writeFileSync(kept, `${JSON.stringify(marks, null, 1)}\n`);
const expected = JSON.parse(readFileSync(kept, "utf8")) as Marks;
const names = [...new Set([...Object.keys(expected), ...Object.keys(marks)])];
const others = names.filter((name) => expected[name] !== marks[name]);
for (const name of others) console.log(`other: ${name}: ${expected[name] ?? "not there before"} → ${marks[name] ?? "gone"}`);
console.log(`${names.length} cases, ${others.length} other than kept`);
process.exit(others.length === 0 ? 0 : 1);
