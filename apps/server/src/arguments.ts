import { readFileSync } from "node:fs";
import { parseArgs } from "node:util";

/** How the server was started. */
export interface Started {
  /** The folder of the shared shelf; null: the example that ships. */
  readonly shelf: string | null;
  /** Answers beyond this machine, to who has the token. */
  readonly open: boolean;
  readonly token: string | null;
  readonly port: number;
}

/** Least length of a token: shorter ones are guessed. */
const TOKEN = 12;
const PORT = 4173;

/** How it is called, for who called it wrongly. */
export const USAGE = "npm start -- [--port 4173] [--shelf FOLDER] [--open --token-file FILE]";

/**
 * The arguments after `npm start --`, and what the environment says: `PORT`, and `KNEADER_TOKEN` for the token, which is seen by
 * everybody on this machine when it is an argument. Errors: in words, for who typed them.
 */
export function readArguments(given: readonly string[], environment: NodeJS.ProcessEnv = {}): Started {
  const text = { type: "string" } as const;
  const { values } = parseArgs({
    args: [...given],
    options: { shelf: text, open: { type: "boolean" }, token: text, "token-file": text, port: text },
    strict: true,
  });
  const { shelf = null, open = false } = values;
  const token = tokenOf(values.token, values["token-file"], open ? environment.KNEADER_TOKEN : undefined);
  if (open && token === null)
    throw new Error(
      `--open answers beyond this machine, and needs a token of at least ${TOKEN} characters: in a file (--token-file FILE) or in KNEADER_TOKEN.`,
    );
  if (token !== null && token.length < TOKEN) throw new Error(`The token is too short: it needs at least ${TOKEN} characters.`);
  if (!open && token !== null) throw new Error("A token is for --open: on this machine alone nothing is asked for.");
  return { shelf, open, token, port: portOf(values.port ?? environment.PORT) };
}

function tokenOf(written: string | undefined, file: string | undefined, kept: string | undefined): string | null {
  if (written !== undefined && file !== undefined) throw new Error("Give the token once: --token-file FILE, or --token SECRET.");
  if (file === undefined) return written ?? kept ?? null;
  try {
    return readFileSync(file, "utf8").trim();
  } catch {
    throw new Error(`The token's file "${file}" cannot be read.`);
  }
}

function portOf(written: string | undefined): number {
  if (written === undefined) return PORT;
  const port = Number(written);
  if (written.trim() === "" || !Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Error(`"${written}" is no port: it is a whole number from 1 to 65535, such as --port 4200.`);
  return port;
}
