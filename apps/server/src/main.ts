import { existsSync } from "node:fs";
import { mkdir } from "node:fs/promises";
import { resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { readArguments, type Started, USAGE } from "./arguments.ts";
import { buildServer } from "./server.ts";
import { takeFolder } from "./shelf/folderLock.ts";
import { ShelfFolder } from "./shelf/shelfFolder.ts";

/** Say why it does not start, and end. */
function end(why: string, code: 1 | 2): never {
  console.error(why);
  process.exit(code);
}

function started(): Started {
  try {
    return readArguments(process.argv.slice(2), process.env);
  } catch (error) {
    return end(`${(error as Error).message}\nUse: ${USAGE}`, 2);
  }
}

/** The folder that is shared, there and this server's alone. */
async function ownFolder(root: string): Promise<() => Promise<void>> {
  try {
    await mkdir(root, { recursive: true });
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    const why =
      code === "EEXIST" || code === "ENOTDIR" ? "it is a file" : code === "EROFS" ? "the disk may only be read" : "this user may not";
    end(`The shelf "${root}" cannot be a folder: ${why}.`, 1);
  }
  try {
    return await takeFolder(root, () => {
      shelf.giveUp();
      console.error("Another server has taken the shelf over: nothing is changed from here any more. End this one.");
    });
  } catch (error) {
    return end((error as Error).message, 1);
  }
}

const dist = fileURLToPath(new URL("../../web/dist", import.meta.url));
if (!existsSync(dist)) end("The application is not built yet. Run npm start, or npm run build first.", 1);

const { shelf: folder, open, token, port } = started();
const example = fileURLToPath(new URL("../example-shelf", import.meta.url));
const shelf = new ShelfFolder(folder === null ? example : resolve(process.env.INIT_CWD ?? ".", folder), folder === null);
const letGo = folder === null ? null : await ownFolder(shelf.root);
const server = await buildServer(dist, { shelf, token, open });
// Thousands of files are looked through before anybody asks.
void shelf.list().catch((error: unknown) => console.error(`The shelf cannot be read: ${String(error)}`));
try {
  await server.listen({ host: open ? "0.0.0.0" : "127.0.0.1", port });
  console.log(`Kneader is ready at http://127.0.0.1:${port}/   (end with Ctrl C)`);
  if (folder !== null) console.log(`Shared shelf: ${shelf.root}${open ? ", for those with the token" : ", for this machine"}`);
} catch (error) {
  await letGo?.();
  const { code } = error as NodeJS.ErrnoException;
  if (code === "EADDRINUSE")
    end(`Port ${port} is taken by another program. Give another one: npm start -- --port ${port < 65_535 ? port + 1 : 4200}`, 1);
  if (code === "EACCES") end(`This user may not answer at port ${port}. Give another one: npm start -- --port 4200`, 1);
  end(String(error), 1);
}

for (const signal of ["SIGINT", "SIGTERM"] as const)
  process.once(
    signal,
    () =>
      void server
        .close()
        .then(letGo)
        .then(() => process.exit(0)),
  );
