import type { Command } from "./command.ts";
import { commands } from "./commands.ts";
import { findByWords } from "./findByWords.ts";
import { meantBy } from "./sayings.ts";
import { spelt } from "./spelling.ts";

/** A command that was found, with what the typed numbers say of its card's settings. */
export interface FoundCommand {
  readonly command: Command;
  readonly settings: Record<string, unknown> | null;
}

const plain = (command: Command): FoundCommand => ({ command, settings: null });

/** What a text means as a whole comes first, then what has its words. */
export function findCommands(text: string): FoundCommand[] {
  const said = text
    .toLowerCase()
    .replaceAll(/[a-z]+/g, spelt)
    .replaceAll(/[’']/g, "")
    .trim();
  const meant = meantBy(said).flatMap(({ id, settings }) => {
    const command = commands.find((one) => one.id === id);
    return command ? [{ command, settings }] : [];
  });
  const isMeant = (command: Command) => meant.some((one) => one.command === command);
  const byWords = findByWords(commands, text);
  // One that is called just what was typed is what is meant.
  const named = byWords.filter(({ title }) => title.toLowerCase().replace(":", "") === said && !isMeant(byWords[0]));
  return [
    ...named.map(plain),
    ...meant.filter(({ command }) => !named.includes(command)),
    ...byWords.filter((command) => !isMeant(command) && !named.includes(command)).map(plain),
  ];
}

/** "with 12", "with 200, travel": what of the settings was said. */
export const saySettings = (settings: Record<string, unknown>): string =>
  `with ${Object.values(settings)
    .map((value) => (value === true ? "it on" : value === "" ? "the world" : String(value)))
    .join(", ")}`;
