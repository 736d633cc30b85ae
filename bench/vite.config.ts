import { defineConfig } from "vite";

/** The bench is built as the application is, so that what is measured runs as it does there. */
export default defineConfig({
  root: import.meta.dirname,
  ssr: { noExternal: ["comlink"], resolve: { conditions: ["kneader-source", "module", "node", "development|production"] } },
  build: {
    ssr: true,
    outDir: "dist",
    emptyOutDir: true,
    target: "es2023",
    rollupOptions: { input: ["bench/run.ts", "bench/fitHelper.ts"] },
  },
});
