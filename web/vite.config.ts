import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vitest/config";

const TESTS = "tests/**/*.test.{ts,tsx}";
const MOCKED = "tests/**/*.mocked.test.{ts,tsx}";

export default defineConfig({
  plugins: [tailwindcss()],
  esbuild: { jsx: "automatic" },
  build: { chunkSizeWarningLimit: 1800, target: "es2022" },
  test: {
    setupFiles: ["tests/setup.ts"],
    css: true,
    testTimeout: 30_000, // a test waits for what is drawn; how long that takes is the machine's affair
    hookTimeout: 30_000,
    pool: "threads",
    poolOptions: { threads: { maxThreads: 2 } },
    isolate: false, // of the workers; what a project says is of its modules
    // files that put other modules in place of ours have modules of their own; the others share theirs, at a third of the time
    projects: [
      { extends: true, test: { name: "shared", include: [TESTS], exclude: [MOCKED], isolate: false } },
      { extends: true, test: { name: "mocked", include: [MOCKED], isolate: true } },
    ],
  },
  server: { proxy: { "/api": "http://127.0.0.1:8137" } },
});
