import { commands } from "./commands/commands.ts";
import type { Command } from "./commands/command.ts";

/** What stands at the end of every page of help. */
const codes = [
  "Ends with  0  done",
  "           1  something failed: a file, or what an operation refuses",
  "           2  called wrongly: nothing was read or written",
];

/** Help on all commands. */
export function allHelp(): string {
  const width = Math.max(...commands.map(({ name, takes }) => name.length + takes.length)) + 3;
  return [
    "kneader: rework keyframed character animation from the command line.",
    "",
    ...commands.map(({ name, takes, help }) => `  kneader ${`${name} ${takes}`.padEnd(width)}${help}`),
    "",
    "  kneader help COMMAND       one command, its options and an example",
    "  kneader --version          the version",
    "",
    "Of every command:",
    "  --errors json              what is said on standard error as lines of JSON",
    "",
    ...codes,
    "",
  ].join("\n");
}

/** Help on one command. */
export function commandHelp({ name, takes, help, more = [], options, example }: Command): string {
  const lefts = options.map((option) => `  --${option.name}${option.takes ? ` ${option.takes}` : ""}`);
  const width = Math.max(0, ...lefts.map(({ length }) => length)) + 2;
  return [
    `kneader ${name} ${takes}${options.length > 0 ? " [options]" : ""}`,
    "",
    help,
    ...more,
    "",
    ...options.map((option, i) => `${lefts[i].padEnd(width)}${option.help}`),
    ...(options.length > 0 ? [""] : []),
    "For example:",
    `  ${example}`,
    "",
    ...codes,
    "",
  ].join("\n");
}
