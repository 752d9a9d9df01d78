import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [tailwindcss()],
  esbuild: { jsx: "automatic" },
  build: { chunkSizeWarningLimit: 1800, target: "es2022" },
  server: { proxy: { "/api": "http://127.0.0.1:8137" } },
});
