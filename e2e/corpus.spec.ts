import { execFileSync } from "node:child_process";
import { fileURLToPath } from "node:url";
import { expect, test } from "@playwright/test";
import { build, type Rollup } from "vite";
import type { CorpusFiles, CorpusOptions, Marks } from "../reference/corpus/corpus.ts";
import { readCorpus } from "../reference/corpus/files.ts";

declare const corpus: { runCorpus(files: CorpusFiles, options: CorpusOptions): Promise<Marks> };

const root = fileURLToPath(new URL("..", import.meta.url));

/** The corpus and all of core as one script, the way the application is built. */
async function script(): Promise<string> {
  const lib = { entry: `${root}/reference/corpus/corpus.ts`, name: "corpus", formats: ["iife" as const] };
  const built = await build({
    configFile: false,
    logLevel: "warn",
    resolve: { conditions: ["kneader-source"] },
    build: { write: false, lib },
  });
  return (built as Rollup.RollupOutput[])[0].output[0].code;
}

test("core makes in Node, to the last bit, what it made when the marks were kept", () => {
  const options = ["--conditions=kneader-source", "--import", "tsx", "reference/corpus/run.ts", "42"];
  expect(execFileSync(process.execPath, options, { cwd: root, encoding: "utf8" })).toMatch(/[1-9]\d+ cases, 0 other than kept/);
});

test("core makes the same in a page and in a worker as in Node, to the last bit", async ({ page }) => {
  const { files, kept } = readCorpus(root);
  const shots = files.shots.map(({ name, bytes }) => ({ name, text: new TextDecoder().decode(bytes) }));
  await page.goto("about:blank");
  await page.addScriptTag({ content: await script() });
  const everywhere = await page.evaluate(async (given) => {
    const files = { shots: given.map(({ name, text }) => ({ name, bytes: new TextEncoder().encode(text) })) };
    const code = document.scripts[0].textContent;
    const answer = "onmessage = async ({ data }) => postMessage(await corpus.runCorpus(data, { oneIn: 42 }));";
    const worker = new Worker(URL.createObjectURL(new Blob([code, answer])));
    const inWorker = new Promise<Marks>((resolve, reject) => {
      worker.onmessage = ({ data }) => resolve(data);
      worker.onerror = ({ message }) => reject(new Error(message));
    });
    worker.postMessage(files);
    return { page: await corpus.runCorpus(files, { oneIn: 42 }), worker: await inWorker };
  }, shots);
  for (const marks of Object.values(everywhere)) {
    expect(Object.keys(marks).length).toBeGreaterThan(50);
    for (const name of Object.keys(marks)) expect(`${name}: ${marks[name]}`).toBe(`${name}: ${kept[name]}`);
  }
});
