import { defineConfig } from "vite";

/** The server as plain JavaScript: it starts at once, and nothing is compiled while somebody waits. */
export default defineConfig({
  root: import.meta.dirname,
  logLevel: "warn",
  ssr: { noExternal: [/^@kneader\//], resolve: { conditions: ["kneader-source", "module", "node", "development|production"] } },
  build: {
    ssr: true,
    outDir: "dist",
    emptyOutDir: true,
    target: "es2023",
    rollupOptions: { input: { main: "src/main.ts" }, output: { entryFileNames: "[name].js", chunkFileNames: "shared-[name].js" } },
  },
});
