import { type BenchStep, KINDS } from "../recipe/recipe";
import type { BenchFolder } from "./step";

const folders = import.meta.glob<BenchFolder>("./steps/*/index.tsx", { eager: true, import: "default" });

/** The steps of the bench by name, each from its own folder. */
export const FOLDERS = Object.fromEntries(KINDS.map((kind) => [kind, folders[`./steps/${kind}/index.tsx`]])) as Record<
  BenchStep,
  BenchFolder
>;
