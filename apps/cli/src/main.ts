import { runCli } from "./cli.ts";

const result = await runCli(process.argv.slice(2), (text) => process.stdout.write(text));
if (result.output) process.stdout.write(result.output);
for (const message of result.messages) process.stderr.write(`${message}\n`);
process.exitCode = result.code;
