import type { Recipe, Step, StepKind } from "../../api/client";
import type { Nudge } from "../../stage/PlaceHandles";

export type BenchStep = "receive" | "place" | "fit" | "work" | "bind" | "follow" | "clear" | "drape" | "finish";
export type WorkKind = Exclude<StepKind, BenchStep>;
export const KINDS: BenchStep[] = ["receive", "place", "fit", "work", "bind", "follow", "clear", "drape", "finish"];
export const LABEL: Record<BenchStep, string> = {
  receive: "Receive",
  place: "Place",
  fit: "Fit",
  work: "Work",
  bind: "Bind",
  follow: "Follow",
  clear: "Clear",
  drape: "Drape",
  finish: "Finish",
};

export type StepOf<K extends StepKind> = Extract<Step, { kind?: K }>;

/** The step of the bench an alteration belongs to: strokes, adjusters and cuts are all work; the weight brush belongs to binding. */
export function benchStep(kind: StepKind | undefined): BenchStep {
  if (kind === "weigh" || kind === "mend") return "bind";
  if (kind === "fix" || kind === "hide") return "clear";
  return KINDS.includes(kind as BenchStep) ? (kind as BenchStep) : "work";
}

const rank = (kind: StepKind | BenchStep | undefined) => KINDS.indexOf(benchStep(kind as StepKind));

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

/** The strokes and mends of the weights, in the order they were made. */
export function weighOf(recipe: Recipe): Step[] {
  return (recipe.steps ?? []).filter((s) => s.kind === "weigh" || s.kind === "mend");
}

/** The recipe with other strokes and mends of the weights; what rests on them runs again. */
export function withWeigh(recipe: Recipe, made: Step[]): Recipe {
  const rest = (recipe.steps ?? []).filter((s) => s.kind !== "weigh" && s.kind !== "mend");
  const at = rest.findIndex((s) => s.kind === "bind") + 1;
  return { ...recipe, steps: [...rest.slice(0, at), ...made, ...rest.slice(at)] };
}

/** A step with the house's defaults, as the server would make it. */
export function fresh(kind: Exclude<BenchStep, "work" | "drape" | "finish">): Step {
  switch (kind) {
    case "receive":
      return { kind, unit: "auto", up: "auto", hand: "auto", facing: "auto" };
    case "place":
      return { kind, move: [0, 0, 0], turn: [0, 0, 0], scale: 1, stretch: [1, 1, 1], mirror: false };
    case "fit":
      return {
        kind,
        ease: 0.009,
        keep: 0.9,
        align: true,
        ride: true,
        stiff: "auto",
        over: [],
        paint: [],
        rigid: [],
        cloth: [],
      };
    case "bind":
      return {
        kind,
        reach: 0.1,
        angle: 0.61,
        source: "body",
        how: "solve",
        most: 4,
        over: [],
        legs: "auto",
        width: 0.1,
        worn_as: "auto",
        even: true,
        rigid: [],
        cloth: [],
        alone: false,
        joint: "",
      };
    case "follow":
      return { kind, own: true, clear: true, pairs: true, ease: 0.002, over: [] };
    case "clear":
      return { kind, cells: [], ease: 0.004, keep: "rest", way: "out", loose: "falls", over: [], outer: [] };
  }
}

export function stepOf<K extends StepKind>(recipe: Recipe, kind: K): StepOf<K> | undefined {
  return recipe.steps?.find((s) => s.kind === kind) as StepOf<K> | undefined;
}

/** The recipe with `step` put in its place in the working order; clearing and draping are added after what there is. */
export function withStep(recipe: Recipe, step: Step): Recipe {
  const steps = recipe.steps ?? [];
  if (["clear", "drape"].includes(benchStep(step.kind))) return { ...recipe, steps: [...steps, step] };
  if (benchStep(step.kind) === "work") return withWork(recipe, [...workOf(recipe), step]);
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
  return { ...recipe, steps: (recipe.steps ?? []).filter((s) => rank(s.kind) < rank(kind)) };
}

/** The recipe with a hand's nudge added to its place step. */
export function nudged(recipe: Recipe, nudge: Nudge): Recipe {
  const old = stepOf(recipe, "place") ?? (fresh("place") as StepOf<"place">);
  const [x, y, z] = old.move ?? [0, 0, 0];
  const [a, b, c] = old.turn ?? [0, 0, 0];
  return withStep(recipe, {
    ...old,
    kind: "place",
    move: [x + nudge.move[0], y + nudge.move[1], z + nudge.move[2]],
    turn: [a + nudge.turn[0], b + nudge.turn[1], c + nudge.turn[2]],
    scale: (old.scale ?? 1) * nudge.scale,
    stretch: (old.stretch ?? [1, 1, 1]).map((x, k) => x * nudge.stretch[k]) as [number, number, number],
  });
}
