import { describe, expect, it } from "vitest";
import type { Recipe, Step } from "../../src/api/client";
import { item } from "../../src/recipe/at";
import {
  benchStep,
  cutBefore,
  finishes,
  fresh,
  KINDS,
  nudged,
  stepOf,
  weighOf,
  withStep,
  withWeigh,
  withWork,
  workOf,
} from "../../src/recipe/recipe";

const empty = { steps: [] } as unknown as Recipe;
const step = (kind: string, more: object = {}) => ({ kind, ...more }) as unknown as Step;
const kinds = (recipe: Recipe) => (recipe.steps ?? []).map((s) => s.kind as string);
const ONCE = ["receive", "place", "fit", "bind", "follow"] as const;

/** Numbers that are the same in every run. Follows: Park & Miller, Random number generators, 1988. */
function random(seed: number) {
  let state = seed;
  return (below: number) => {
    state = (state * 48271) % 2147483647;
    return state % below;
  };
}

describe("a recipe", () => {
  it("keeps the working order and each step once, in whatever order steps are put in", () => {
    const all = [
      ...ONCE.map((k) => fresh(k)),
      step("stroke"),
      step("trim"),
      step("clear"),
      step("drape"),
      step("hide"),
    ];
    const next = random(11);
    for (let run = 0; run < 200; run++) {
      let recipe = empty;
      for (let k = 0; k < 12; k++) recipe = withStep(recipe, item(all, next(all.length)));
      const places = kinds(recipe).map((k) => KINDS.indexOf(benchStep(k as never)));
      const settled = places.filter((p) => p < KINDS.indexOf("clear"));
      expect(settled).toEqual([...settled].sort((a, b) => a - b));
      for (const kind of ONCE) expect(kinds(recipe).filter((k) => k === kind).length).toBeLessThan(2);
    }
  });

  it("puts a changed step where the old one stood and keeps what rests on it", () => {
    const before = ["receive", "fit", "bind", "follow", "clear"].reduce((r, k) => withStep(r, step(k)), empty);
    const after = withStep(before, step("fit", { ease: 0.02 }));
    expect(kinds(after)).toEqual(kinds(before));
    expect(stepOf(after, "fit")?.ease).toBe(0.02);
  });

  it("keeps strokes of the weights when the piece is bound anew", () => {
    let recipe = ["receive", "fit", "bind", "follow"].reduce((r, k) => withStep(r, step(k)), empty);
    recipe = withWeigh(recipe, [step("weigh", { joint: "l_knee" }), step("mend")]);
    expect(kinds(recipe)).toEqual(["receive", "fit", "bind", "weigh", "mend", "follow"]);
    recipe = withStep(recipe, step("bind", { reach: 0.2 }));
    expect(kinds(recipe)).toEqual(["receive", "fit", "bind", "weigh", "mend", "follow"]);
    expect(weighOf(withWeigh(recipe, []))).toEqual([]);
  });

  it("takes a step back with what rests on it, but of work and draping only those", () => {
    const recipe = ["receive", "fit", "stroke", "bind", "clear", "drape"].reduce((r, k) => withStep(r, step(k)), empty);
    expect(kinds(cutBefore(recipe, "bind"))).toEqual(["receive", "fit", "stroke"]);
    expect(kinds(cutBefore(recipe, "work"))).toEqual(["receive", "fit", "bind", "clear", "drape"]);
    expect(kinds(cutBefore(recipe, "drape"))).toEqual(["receive", "fit", "stroke", "bind", "clear"]);
    expect(kinds(cutBefore(recipe, "receive"))).toEqual([]);
    expect(workOf(withWork(recipe, [step("trim"), step("stroke")])).map((s) => s.kind)).toEqual(["trim", "stroke"]);
  });

  it("adds a nudge of the hand to what was placed before: ways and turns add up, sizes multiply", () => {
    const nudge = { move: [0.1, 0, -0.2], turn: [0, 0.5, 0], scale: 1.1, stretch: [1, 2, 1] } as never;
    const place = stepOf(nudged(nudged(empty, nudge), nudge), "place");
    expect(place?.move?.map((x) => +x.toFixed(9))).toEqual([0.2, 0, -0.4]);
    expect(place?.turn?.[1]).toBeCloseTo(1);
    expect(place?.scale).toBeCloseTo(1.21);
    expect(place?.stretch).toEqual([1, 4, 1]);
  });

  it("finishes only by what is set and not switched off", () => {
    const recipe = (finish: unknown) => ({ ...empty, finish }) as Recipe;
    expect(finishes(recipe(null))).toBe(false);
    expect(finishes(recipe({ thick: { mm: 2 }, off: ["thick"] }))).toBe(false);
    expect(finishes(recipe({ thick: { mm: 2 }, weld: {}, off: ["thick"] }))).toBe(true);
  });
});
