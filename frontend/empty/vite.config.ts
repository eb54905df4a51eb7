import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

/** The empty page that benchmarks/bench_pages.py measures beside the app. */
export default defineConfig({
  root: import.meta.dirname,
  plugins: [react()],
  build: { outDir: "dist", emptyOutDir: true, target: "es2022" },
});
