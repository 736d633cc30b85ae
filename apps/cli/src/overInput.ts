import { stat } from "node:fs/promises";

/** Is what would be written one of these files, by whatever name or link it is called? */
export async function inputAt(to: string, inputs: readonly string[]): Promise<string | null> {
  const there = await identity(to);
  if (there === null) return null;
  for (const input of inputs) if ((await identity(input)) === there) return input;
  return null;
}

/** What a file is to the system; null where there is none. Links are followed. */
function identity(file: string): Promise<string | null> {
  return stat(file, { bigint: true }).then(
    ({ dev, ino }) => `${dev}/${ino}`,
    () => null,
  );
}
