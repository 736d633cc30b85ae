import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { readArguments } from "../src/arguments.ts";

const TOKEN = "a-lantern-in-the-fog";
const folder = mkdtempSync(join(tmpdir(), "kneader-arguments-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test("arguments: --open needs a token that is not guessed, and unknown ones are refused", () => {
  expect(readArguments(["--shelf", "there"])).toEqual({ shelf: "there", open: false, token: null, port: 4173 });
  expect(readArguments(["--open", "--token", TOKEN])).toMatchObject({ open: true, token: TOKEN });
  // Where nobody sees it: in the environment, or in a file.
  expect(readArguments(["--open"], { KNEADER_TOKEN: TOKEN })).toMatchObject({ open: true, token: TOKEN });
  expect(readArguments([], { KNEADER_TOKEN: TOKEN })).toMatchObject({ open: false, token: null });
  writeFileSync(join(folder, "token"), `${TOKEN}\n`);
  expect(readArguments(["--open", "--token-file", join(folder, "token")])).toMatchObject({ token: TOKEN });
  expect(readArguments(["--port", "4200"], { PORT: "4300" }).port).toBe(4200);
  expect(readArguments([], { PORT: "4300" }).port).toBe(4300);
  for (const [given, why] of [
    [["--open"], /needs a token/],
    [["--open", "--token", "short"], /too short/],
    [["--token", TOKEN], /for --open/],
    [["--shelve"], /Unknown option/],
    [["--open", "--token-file", join(folder, "nowhere")], /cannot be read/],
    [["--open", "--token", TOKEN, "--token-file", "x"], /once/],
    ...["", "4e9", "0", "65536", "12.5", "port"].map((port) => [["--port", port], /is no port/] as const),
  ] as const)
    expect(() => readArguments(given)).toThrow(why);
});
