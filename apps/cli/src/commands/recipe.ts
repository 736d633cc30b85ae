import { UsageError } from "../result.ts";
import { type Command, overwrite } from "./command.ts";

export const recipe: Command = {
  name: "recipe",
  takes: "RECIPE IN ... --out DIR",
  help: "Runs a recipe on shots, folders and patterns, several at a time; a line of JSON a shot.",
  more: ["RECIPE is a file, or the name of one that comes along. What is there already, made of the same, is skipped."],
  example: "kneader recipe capture.json takes/*.bvh --out clean --set simplify.rotation=1",
  options: [
    { name: "out", takes: "DIR", help: "The folder results are written to, under the names of their shots." },
    { name: "jobs", takes: "N", help: "So many at a time; without it all processors but one." },
    {
      name: "set",
      takes: "STEP.NAME=VALUE",
      help: "What a step asks for: STEP is its number, or its operation where only one step has that; alone NAME, where only one step has it.",
    },
    overwrite,
  ],
  async run({ plain, options }, talk) {
    const [file, ...inputs] = plain;
    const out = options.out?.at(-1);
    const written = options.jobs?.at(-1);
    const jobs = written === undefined ? null : Number(written);
    if (!file || inputs.length === 0 || !out) throw new UsageError("recipe needs RECIPE, IN and --out DIR.", "recipe");
    if (jobs !== null && !(Number.isInteger(jobs) && jobs >= 1 && jobs <= 256))
      throw new UsageError(`--jobs needs a number from 1 to 256, not "${written}".`, "recipe");
    // What it takes to run several at a time is only loaded for this.
    const { runMany } = await import("../recipe/runMany.ts");
    return {
      failed: await runMany({
        recipe: file,
        inputs,
        out,
        jobs,
        set: options.set ?? [],
        overwrite: options.overwrite !== undefined,
        line: (said) => talk.line(JSON.stringify(said)),
      }),
    };
  },
};
