import { parseArgs } from "node:util";

/** How the server was started. */
export interface Started {
  /** The folder of the shared shelf; null: the example that ships. */
  readonly shelf: string | null;
  /** Answers beyond this machine, to who has the token. */
  readonly open: boolean;
  readonly token: string | null;
}

/** Least length of a token: shorter ones are guessed. */
const TOKEN = 12;

/** The arguments after `npm start --`. Errors: in words, for who typed them. */
export function readArguments(given: readonly string[]): Started {
  const { values } = parseArgs({
    args: [...given],
    options: { shelf: { type: "string" }, open: { type: "boolean" }, token: { type: "string" } },
    strict: true,
  });
  const { shelf = null, open = false, token = null } = values;
  if (open && token === null)
    throw new Error(`--open answers beyond this machine, and needs a token: --open --token SECRET (at least ${TOKEN} characters).`);
  if (token !== null && token.length < TOKEN) throw new Error(`The token is too short: it needs at least ${TOKEN} characters.`);
  if (!open && token !== null) throw new Error("--token is for --open: on this machine alone nothing is asked for.");
  return { shelf, open, token };
}
