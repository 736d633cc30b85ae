import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";
import react from "@vitejs/plugin-react";
import { createLogger, defineConfig, type Plugin } from "vite";

/** Beside every built file of some size a compressed one, so that the server need not compress while somebody waits. */
function compressed(): Plugin {
  return {
    name: "compressed",
    apply: "build",
    writeBundle({ dir = "" }, bundle) {
      for (const name of Object.keys(bundle)) {
        if (!/\.(js|css|svg|json|html)$/.test(name)) continue;
        const bytes = readFileSync(join(dir, name));
        if (bytes.length < 1024) continue;
        writeFileSync(join(dir, `${name}.br`), brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }));
        writeFileSync(join(dir, `${name}.gz`), gzipSync(bytes));
      }
    },
  };
}

/** Packages that also run in Node name its modules; in the browser that part of them is not used, which need not be told. */
const logger = createLogger();
const { warn } = logger;
logger.warn = (message, options) => {
  if (!message.includes("has been externalized for browser compatibility")) warn(message, options);
};

export default defineConfig({
  customLogger: logger,
  root: import.meta.dirname,
  plugins: [react(), compressed()],
  resolve: { conditions: ["kneader-source", "module", "browser", "development|production"], dedupe: ["three", "react", "react-dom"] },
  worker: { format: "es" },
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 1500, target: "es2023" },
});
