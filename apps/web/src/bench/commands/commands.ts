import type { Command } from "./command.ts";
import { keyCommands } from "./keyCommands.ts";
import { guideCommands, offeredCommands } from "./offeredCommands.ts";
import { pageCommands } from "./pageCommands.ts";
import { passCommands } from "./passCommands.ts";
import { playCommands } from "./playCommands.ts";
import { viewCommands } from "./viewCommands.ts";

/** Everything that can be found by words: every operation, every command of the bench, views, pages and settings. */
export const commands: readonly Command[] = [
  ...offeredCommands,
  ...keyCommands,
  ...playCommands,
  ...passCommands,
  ...viewCommands,
  ...pageCommands,
  ...guideCommands,
];

export function commandById(id: string): Command | undefined {
  return commands.find((command) => command.id === id);
}

export function runCommand(id: string): void {
  commandById(id)?.run();
}
