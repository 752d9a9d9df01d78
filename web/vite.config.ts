import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [tailwindcss()],
  esbuild: { jsx: "automatic" },
  build: { chunkSizeWarningLimit: 1800, target: "es2022" },
  test: {
    include: ["tests/**/*.test.{ts,tsx}"],
    setupFiles: ["tests/setup.ts"],
    css: true,
    pool: "threads",
    isolate: false,
  },
  server: { proxy: { "/api": "http://127.0.0.1:8137" } },
});
