import { existsSync } from "node:fs";
import { resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { readArguments, type Started } from "./arguments.ts";
import { buildServer } from "./server.ts";
import { ShelfFolder } from "./shelf/shelfFolder.ts";

function started(): Started {
  try {
    return readArguments(process.argv.slice(2));
  } catch (error) {
    console.error(`${(error as Error).message}\nUse: npm start -- [--shelf FOLDER] [--open --token SECRET]`);
    process.exit(2);
  }
}

const dist = fileURLToPath(new URL("../../web/dist", import.meta.url));
if (!existsSync(dist)) {
  console.error("The application is not built yet. Run npm start, or npm run build first.");
  process.exit(1);
}

const { shelf: folder, open, token } = started();
const example = fileURLToPath(new URL("../example-shelf", import.meta.url));
const shelf = new ShelfFolder(folder === null ? example : resolve(process.env.INIT_CWD ?? ".", folder), folder === null);
const port = Number(process.env.PORT ?? 4173);
const server = await buildServer(dist, { shelf, token, open });
// Thousands of files are looked through before anybody asks.
void shelf.list().catch((error: unknown) => console.error(`The shelf cannot be read: ${String(error)}`));
try {
  await server.listen({ host: open ? "0.0.0.0" : "127.0.0.1", port });
  console.log(`Kneader is ready at http://127.0.0.1:${port}/`);
  if (folder !== null) console.log(`Shared shelf: ${shelf.root}${open ? ", for those with the token" : ", for this machine"}`);
} catch (error) {
  const { code } = error as NodeJS.ErrnoException;
  console.error(code === "EADDRINUSE" ? `Port ${port} is taken. Set another one: PORT=4200 npm start` : error);
  process.exit(1);
}

for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => void server.close().then(() => process.exit(0)));
