import { KneaderError, sayError } from "@kneader/core";
import manifest from "../package.json" with { type: "json" };
import { didYouMean } from "./arguments/didYouMean.ts";
import { parse } from "./arguments/parse.ts";
import { commands } from "./commands/commands.ts";
import { allHelp, commandHelp } from "./help.ts";
import { type CliResult, type Talk, UsageError } from "./result.ts";

/** Standard input and output, where there are some. */
export interface Streams {
  read?(): Promise<Uint8Array>;
  /** Hears what is said line by line at once. */
  write?(text: string): void;
}

/** Run the command line: arguments in, text and exit code out. Reads and writes only the files that are named. */
export async function runCli(given: readonly string[], streams: Streams = {}): Promise<CliResult> {
  const messages: string[] = [];
  const { args, isJson } = withoutErrors(given);
  const note = (message: string) => void messages.push(isJson ? JSON.stringify({ note: message }) : message);
  let output: string | Uint8Array = "";
  const talk: Talk = {
    note,
    line: (text) => {
      if (streams.write) streams.write(`${text}\n`);
      else output = `${String(output)}${text}\n`;
    },
    bytes: (bytes) => {
      output = bytes;
    },
    read: streams.read ?? (async () => new Uint8Array()),
  };
  try {
    const help = helpFor(args);
    if (help !== null) return { code: 0, output: help, messages };
    const [name, ...rest] = args;
    const command = commandOf(name);
    const answer = await command.run(parse(rest, command.options, command.name), talk);
    if ("said" in answer) return { code: 0, output: `${JSON.stringify(answer.said, null, 2)}\n`, messages };
    return { code: answer.failed > 0 ? 1 : 0, output, messages };
  } catch (error) {
    const { code, ...said } = failure(error);
    // How a file was read is of no interest to who has called wrongly.
    if (error instanceof UsageError) messages.length = 0;
    messages.push(isJson ? JSON.stringify({ error: said }) : said.message);
    if (error instanceof UsageError && !isJson)
      messages.push(`"kneader help${error.command === null ? "" : ` ${error.command}`}" tells how it is called.`);
    return { code, output: "", messages };
  }
}

/** `--errors json` is for every command, wherever it stands. */
function withoutErrors(given: readonly string[]): { args: string[]; isJson: boolean } {
  const args: string[] = [];
  let isJson = false;
  for (let i = 0; i < given.length; i++) {
    if (given[i] === "--errors=json" || (given[i] === "--errors" && given[i + 1] === "json")) {
      isJson = true;
      if (given[i] === "--errors") i++;
    } else args.push(given[i]);
  }
  return { args, isJson };
}

/** The help or version that is asked for; null where something else is. */
function helpFor(args: readonly string[]): string | null {
  const [first, second] = args;
  if (first === "--version" || first === "-v") return `${manifest.version}\n`;
  if (first === "help" || first === "--help" || first === "-h") return second === undefined ? allHelp() : commandHelp(commandOf(second));
  const end = args.indexOf("--");
  const asked = args.slice(0, end < 0 ? args.length : end).some((one) => one === "--help" || one === "-h");
  return asked ? commandHelp(commandOf(first)) : null;
}

function commandOf(name: string | undefined) {
  if (name === undefined) throw new UsageError("Say what to do.");
  const found = commands.find((command) => command.name === name);
  if (found) return found;
  const near = didYouMean(
    name,
    commands.map((command) => command.name),
  );
  throw new UsageError(`"${name}" is not a command.${near}`);
}

/** What went wrong, as it is said and counted. */
function failure(error: unknown): { code: 1 | 2; kind: string; message: string } {
  if (error instanceof UsageError) return { code: 2, kind: "usage", message: error.message };
  if (error instanceof KneaderError) return { code: 1, kind: error.code, message: sayError(error) };
  return { code: 1, kind: "internal", message: `Something went wrong inside Kneader (${sayError(error)}). Nothing was written.` };
}
