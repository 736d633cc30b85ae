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

/** Pages with code of their own, by the first part of their addresses. */
const pages: Readonly<Record<string, string>> = {
  shots: "src/bench/BenchPage.tsx",
  rigs: "src/rigs/RigPage.tsx",
  pantry: "src/pantry/PantryPage.tsx",
  recipes: "src/many/ManyPage.tsx",
};

/**
 * Beside index.html one for each of these pages (shots.html …), which names all files that page needs: they are asked for at
 * once, not only when the application has begun to run. The server sends the one of the address.
 */
function pageFiles(): Plugin {
  return {
    name: "page-files",
    apply: "build",
    enforce: "post",
    generateBundle(_options, bundle) {
      const index = bundle["index.html"];
      if (index?.type !== "asset") throw new Error("There is no index.html to name a page's files in.");
      const text = String(index.source);
      const withImports = (name: string, found = new Set<string>()): Set<string> => {
        const file = bundle[name];
        if (file?.type !== "chunk" || found.has(name)) return found;
        found.add(name);
        for (const imported of file.imports) withImports(imported, found);
        return found;
      };
      for (const [address, source] of Object.entries(pages)) {
        const page = Object.values(bundle).find((file) => file.type === "chunk" && file.facadeModuleId?.endsWith(source));
        if (!page) throw new Error(`No file was built from ${source}.`);
        const ahead = [...withImports(page.fileName)].filter((name) => !text.includes(`/${name}"`));
        const links = ahead.map((name) => `    <link rel="modulepreload" crossorigin href="/${name}">\n`).join("");
        this.emitFile({ type: "asset", fileName: `${address}.html`, source: text.replace("  </head>", `${links}  </head>`) });
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
  plugins: [react(), pageFiles(), compressed()],
  resolve: { conditions: ["kneader-source", "module", "browser", "development|production"], dedupe: ["three", "react", "react-dom"] },
  worker: { format: "es" },
  // While the application is worked on, the server with its shelf and capture line stands behind it.
  server: process.env.KNEADER_BEHIND ? { proxy: { "/api": { target: process.env.KNEADER_BEHIND, ws: true } } } : {},
  build: {
    outDir: "dist",
    emptyOutDir: true,
    chunkSizeWarningLimit: 1500,
    target: "es2023",
    rolldownOptions: {
      // What pages share stands in a few larger files: each small one costs its own way to the server and back.
      output: {
        codeSplitting: { groups: [{ name: "shared", minShareCount: 2, entriesAware: true, entriesAwareMergeThreshold: 120_000 }] },
        chunkFileNames: ({ name }) => (name.startsWith("shared") ? "assets/shared-[hash].js" : "assets/[name]-[hash].js"),
      },
    },
  },
});
