import type { Recipe, Step, StepKind } from "../api/client";
import { item } from "./at";
import { STEPS } from "./steps";

export type BenchStep = (typeof STEPS)["bench"][number]["name"];
export type StepOf<K extends StepKind> = Extract<Step, { kind?: K }>;
export const KINDS: BenchStep[] = STEPS.bench.map((step) => step.name);
export const LABEL = Object.fromEntries(STEPS.bench.map((step) => [step.name, step.label])) as Record<
  BenchStep,
  string
>;
const DECLARED = new Map(STEPS.kinds.map((step) => [step.kind as string, step]));

/** What the panel of a step says, where the step's own module declares it. */
export function wordsOf<K extends StepKind>(kind: K) {
  type Words = Extract<(typeof STEPS)["kinds"][number], { kind: K; words: object }>["words"];
  return (DECLARED.get(kind) as { words: Words }).words;
}

/** How far a piece is moved, turned and scaled by hand. */
export interface Nudge {
  move: [number, number, number];
  turn: [number, number, number];
  scale: number;
  stretch: [number, number, number];
}

/** The step of the bench an alteration belongs to: strokes, adjusters and cuts are all work; the weight brush belongs to binding. */
export function benchStep(kind: StepKind | undefined): BenchStep {
  return DECLARED.get(kind ?? "")?.bench ?? "work";
}

/** Whether an alteration belongs to a list at its step, and is made as often as the artist likes. */
const repeats = (kind: StepKind | undefined) => DECLARED.get(kind ?? "")?.repeats ?? false;
const rank = (kind: StepKind | undefined) => KINDS.indexOf(benchStep(kind));

/** The work alterations of a recipe, in the order they were made. */
export function workOf(recipe: Recipe): Step[] {
  return (recipe.steps ?? []).filter((s) => benchStep(s.kind) === "work");
}

/** The recipe with other work alterations; what rests on them runs again. */
export function withWork(recipe: Recipe, work: Step[]): Recipe {
  const steps = recipe.steps ?? [];
  const at = KINDS.indexOf("work");
  return {
    ...recipe,
    steps: [...steps.filter((s) => rank(s.kind) < at), ...work, ...steps.filter((s) => rank(s.kind) > at)],
  };
}

const weighs = (step: Step) => benchStep(step.kind) === "bind" && repeats(step.kind);

/** The strokes and mends of the weights, in the order they were made. */
export function weighOf(recipe: Recipe): Step[] {
  return (recipe.steps ?? []).filter(weighs);
}

/** The recipe with other strokes and mends of the weights; what rests on them runs again. */
export function withWeigh(recipe: Recipe, made: Step[]): Recipe {
  const rest = (recipe.steps ?? []).filter((s) => !weighs(s));
  const at = rest.findIndex((s) => s.kind === "bind") + 1;
  return { ...recipe, steps: [...rest.slice(0, at), ...made, ...rest.slice(at)] };
}

/** A step with the house's defaults, as the server would make it. */
export function fresh<K extends StepKind>(kind: K): StepOf<K> {
  return structuredClone(DECLARED.get(kind)?.defaults) as StepOf<K>;
}

export function stepOf<K extends StepKind>(recipe: Recipe, kind: K): StepOf<K> | undefined {
  return recipe.steps?.find((s) => s.kind === kind) as StepOf<K> | undefined;
}

/** The recipe with `step` put in its place in the working order; clearing and draping are added after what there is. */
export function withStep(recipe: Recipe, step: Step): Recipe {
  const steps = recipe.steps ?? [];
  if (benchStep(step.kind) === "work") return withWork(recipe, [...workOf(recipe), step]);
  if (weighs(step)) return withWeigh(recipe, [...weighOf(recipe), step]);
  if (repeats(step.kind)) return { ...recipe, steps: [...steps, step] };
  const at = rank(step.kind);
  const before = steps.filter((s) => rank(s.kind) < at);
  const after = steps.filter((s) => rank(s.kind) > at);
  const painted = step.kind === "bind" ? weighOf(recipe) : []; // strokes hold by the vertices they were made on
  return { ...recipe, steps: [...before, step, ...painted, ...after] };
}

/** Whether a recipe's finish changes anything. */
export function finishes(recipe: Recipe): boolean {
  const f = recipe.finish;
  const does = (what: (typeof PARTS)[number]) => !!f?.[what] && !f.off?.includes(what);
  return PARTS.some(does);
}

export const PARTS = ["weld", "smooth", "finer", "thick", "sharp"] as const;

/** The recipe cut before the first step of `kind`: that step and what rests on it are taken back; of work and draping, only those. */
export function cutBefore(recipe: Recipe, kind: BenchStep): Recipe {
  if (kind === "finish") return { ...recipe, finish: null };
  if (kind === "work") return withWork(recipe, []);
  if (kind === "drape") return { ...recipe, steps: (recipe.steps ?? []).filter((s) => s.kind !== "drape") };
  return { ...recipe, steps: (recipe.steps ?? []).filter((s) => rank(s.kind) < KINDS.indexOf(kind)) };
}

/** The recipe with a hand's nudge added to its place step. */
export function nudged(recipe: Recipe, nudge: Nudge): Recipe {
  const old = stepOf(recipe, "place") ?? fresh("place");
  const [x, y, z] = old.move ?? [0, 0, 0];
  const [a, b, c] = old.turn ?? [0, 0, 0];
  return withStep(recipe, {
    ...old,
    kind: "place",
    move: [x + nudge.move[0], y + nudge.move[1], z + nudge.move[2]],
    turn: [a + nudge.turn[0], b + nudge.turn[1], c + nudge.turn[2]],
    scale: (old.scale ?? 1) * nudge.scale,
    stretch: (old.stretch ?? [1, 1, 1]).map((x, k) => x * item(nudge.stretch, k)) as [number, number, number],
  });
}

/** The ease (metres) that a fit begins with: what the production has settled for the category, else the step's own. */
export function easeFor(category: string, settings: { ease: Record<string, number> }): number {
  return settings.ease[category] ?? fresh("fit").ease ?? 0;
}
