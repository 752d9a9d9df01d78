import { expect, test } from "vitest";
import { FOLDERS } from "../../src/bench/registry";
import { describe, TOOLS } from "../../src/bench/tool";
import { KINDS } from "../../src/recipe/recipe";
import { STEPS } from "../../src/recipe/steps";

test("every step of the server's list has its folder in the browser", () => {
  for (const kind of KINDS) expect(FOLDERS[kind]?.Panel, kind).toBeTypeOf("function");
});

test("every kind of work has its tool, in the order of the server's list", () => {
  const work = STEPS.kinds.filter((step) => step.bench === "work").map((step) => step.kind);
  expect(TOOLS.map((tool) => tool.kind)).toEqual(work);
});

test("an alteration of every kind of work is named in words", () => {
  expect(describe({ kind: "thicken", thick: 0.002 })).toBe("Thicken 2.0 mm");
  expect(describe({ kind: "refine", where: "joints", longest: 0.01 })).toBe("Refine at joints");
  expect(describe({ kind: "adjust", clear: true, ease: 0.004, values: { waist: 0.5, hem: 0 } })).toBe("Adjust 1");
});
