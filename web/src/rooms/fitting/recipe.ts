import type { Recipe, Step, StepKind } from "../../api/client";
import type { Nudge } from "../../stage/PlaceHandles";

export const KINDS: StepKind[] = ["receive", "place", "fit", "bind", "follow", "clear"];
export const LABEL: Record<StepKind, string> = {
  receive: "Receive",
  place: "Place",
  fit: "Fit",
  bind: "Bind",
  follow: "Follow",
  clear: "Clear",
};

export type StepOf<K extends StepKind> = Extract<Step, { kind?: K }>;

/** A step with the house's defaults, as the server would make it. */
export function fresh(kind: StepKind): Step {
  switch (kind) {
    case "receive":
      return { kind, unit: "auto", up: "auto", hand: "auto", facing: "auto" };
    case "place":
      return { kind, move: [0, 0, 0], turn: [0, 0, 0], scale: 1 };
    case "fit":
      return { kind, ease: 0.009, keep: 0.7, align: true, ride: true };
    case "bind":
      return { kind, reach: 0.1, angle: 0.61, source: "body" };
    case "follow":
      return { kind, own: true };
    case "clear":
      return { kind, cells: [], ease: 0.004 };
  }
}

export function stepOf<K extends StepKind>(recipe: Recipe, kind: K): StepOf<K> | undefined {
  return recipe.steps?.find((s) => s.kind === kind) as StepOf<K> | undefined;
}

/** The recipe with `step` put in its place in the working order; a clear step is added after those there are. */
export function withStep(recipe: Recipe, step: Step): Recipe {
  const steps = recipe.steps ?? [];
  if (step.kind === "clear") return { ...recipe, steps: [...steps, step] };
  const at = KINDS.indexOf(step.kind as StepKind);
  const before = steps.filter((s) => KINDS.indexOf(s.kind as StepKind) < at);
  const after = steps.filter((s) => KINDS.indexOf(s.kind as StepKind) > at);
  return { ...recipe, steps: [...before, step, ...after] };
}

/** The recipe cut before the first step of `kind`: that step and what rests on it are taken back. */
export function cutBefore(recipe: Recipe, kind: StepKind): Recipe {
  const at = KINDS.indexOf(kind);
  return { ...recipe, steps: (recipe.steps ?? []).filter((s) => KINDS.indexOf(s.kind as StepKind) < at) };
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
    turn: [a, b + nudge.turnY, c],
    scale: (old.scale ?? 1) * nudge.scale,
  });
}
