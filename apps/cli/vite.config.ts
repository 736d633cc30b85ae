import { defineConfig } from "vite";

/** The command line as files of plain JavaScript, everything in them but the pool of processes. */
export default defineConfig({
  root: import.meta.dirname,
  logLevel: "warn",
  ssr: { noExternal: true, external: ["piscina"], resolve: { conditions: ["kneader-source", "module", "node", "development|production"] } },
  build: {
    ssr: true,
    outDir: "dist",
    emptyOutDir: true,
    target: "es2023",
    minify: true,
    rollupOptions: {
      input: { kneader: "src/main.ts", runOne: "src/recipe/runOne.ts" },
      output: {
        entryFileNames: "[name].js",
        chunkFileNames: "shared-[name].js",
        banner: ({ name }: { name: string }) => (name === "kneader" ? "#!/usr/bin/env node" : ""),
      },
    },
  },
});
