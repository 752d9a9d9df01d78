import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [tailwindcss()],
  esbuild: { jsx: "automatic" },
  build: { chunkSizeWarningLimit: 1800, target: "es2022" },
  test: { include: ["tests/**/*.test.{ts,tsx}"], css: true },
  server: { proxy: { "/api": "http://127.0.0.1:8137" } },
});
