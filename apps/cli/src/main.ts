import { buffer } from "node:stream/consumers";
import { runCli } from "./cli.ts";

// Run by npm it is begun in the project; names of files are meant where one stands.
if (process.env.npm_lifecycle_event === "kneader" && process.env.INIT_CWD) process.chdir(process.env.INIT_CWD);
// Whoever reads the output may have had enough of it.
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code !== "EPIPE") throw error;
  process.exit(0);
});

const result = await runCli(process.argv.slice(2), {
  read: async () => new Uint8Array(await buffer(process.stdin)),
  write: (text) => process.stdout.write(text),
});
for (const message of result.messages) process.stderr.write(`${message}\n`);
process.exitCode = result.code;
if (result.output.length > 0) process.stdout.write(result.output);
