import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react()],
  resolve: { conditions: ["kneader-source", "module", "browser", "development|production"], dedupe: ["three", "react", "react-dom"] },
  worker: { format: "es" },
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 1500, target: "es2023" },
});
