/** What came of a call: what to print where, and the code to end with. */
export interface CliResult {
  readonly code: ExitCode;
  /** For standard output. */
  readonly output: string | Uint8Array;
  /** Lines for standard error. */
  readonly messages: readonly string[];
}

/** 0 done, 1 failed (a file, or what an operation refuses), 2 called wrongly. */
type ExitCode = 0 | 1 | 2;

/** What is wrong with how it was called, in one sentence; `command` is the one whose help would tell. */
export class UsageError extends Error {
  readonly command: string | null;

  constructor(message: string, command: string | null = null) {
    super(message);
    this.command = command;
  }
}

/** How a command talks: notes for standard error, lines and bytes for standard output, bytes from standard input. */
export interface Talk {
  note(message: string): void;
  line(text: string): void;
  bytes(bytes: Uint8Array): void;
  read(): Promise<Uint8Array>;
}

/** What a command answers: a value to print as JSON, or how many of several failed, each of which has been told already. */
export type Answer = { readonly said: unknown } | { readonly failed: number };
