import { existsSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { buildServer } from "./server.ts";

const dist = fileURLToPath(new URL("../../web/dist", import.meta.url));
if (!existsSync(dist)) {
  console.error("The application is not built yet. Run npm start, or npm run build first.");
  process.exit(1);
}

const port = Number(process.env.PORT ?? 4173);
const server = await buildServer(dist);
try {
  await server.listen({ host: "127.0.0.1", port });
  console.log(`Kneader is ready at http://127.0.0.1:${port}/`);
} catch (error) {
  const { code } = error as NodeJS.ErrnoException;
  console.error(code === "EADDRINUSE" ? `Port ${port} is taken. Set another one: PORT=4200 npm start` : error);
  process.exit(1);
}

for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => void server.close().then(() => process.exit(0)));
