import { describe, expect, it } from "vitest";
import type { Production, Trial } from "../../src/api/client";
import { columnsOf, sheetCells, stanceOf } from "../../src/recipe/sheetCells";

const production = {
  cast: [
    { id: 1, name: "Ibbet" },
    { id: 2, name: "Corvane" },
  ],
  poses: [
    { name: "sit", label: "Sit" },
    { name: "kneel", label: "Kneel" },
  ],
  motions: [{ name: "walk", label: "Walk" }],
  settings: { holds_cm2: 0.1 },
} as unknown as Production;

const place = (name: string, area: number) => ({ name, area_cm2: area, depth_mm: 2 });
const pair = (over: string, area: number, more: object = {}) => ({
  over,
  under: "Skin",
  area_cm2: area,
  clearance_mm: area ? -2 : 3,
  places: area ? [place("left knee", area)] : [],
  ...more,
});
const run = (...cells: [number, string, object][]) =>
  ({ cells: cells.map(([wearer, pose, more]) => ({ wearer, pose, ...more })) }) as unknown as Trial;
const figures = (pairs: ReturnType<typeof pair>[], more: object = {}) => ({
  figures: { pairs, area_cm2: pairs.reduce((s, p) => s + p.area_cm2, 0), ...more },
});
const asked = (trial: Trial | null, more: object = {}) =>
  sheetCells({ production, trial, other: null, piece: null, byShots: false, waivers: [], pins: [], ...more });
const at = (cells: ReturnType<typeof asked>, key: string) => cells.find((c) => c.key === key) as (typeof cells)[number];

describe("the cells of the sheet", () => {
  it("are every wearer in every pose and motion, measured or not", () => {
    const cells = asked(null);
    expect(cells).toHaveLength(6);
    expect(cells.every((c) => c.place === "Not measured" && c.change === null)).toBe(true);
    expect(columnsOf(production).map((c) => c.label)).toEqual(["Sit", "Kneel", "Walk, worst"]);
  });

  it("count what shows through two layers at once only once, and holes besides", () => {
    const cell = at(
      asked(run([1, "sit", figures([pair("Coat", 2), pair("Shirt", 2)], { area_cm2: 2.5, holes_cm2: 0.3 })])),
      "1 sit",
    );
    expect(cell.area).toBeCloseTo(2.8);
    expect(cell.holds).toBe(false);
    expect(cell.place).toBe("Coat over Skin, left knee");
  });

  it("hold while they show no more than the production lets them", () => {
    const trial = run([1, "sit", figures([pair("Coat", 0.4)])]);
    const lenient = { ...production, settings: { ...production.settings, holds_cm2: 0.5 } };
    expect(at(asked(trial), "1 sit").holds).toBe(false);
    expect(at(asked(trial, { production: lenient }), "1 sit").holds).toBe(true);
  });

  it("leave out what is waived, and say why", () => {
    const trial = run([1, "sit", figures([pair("Coat", 2), pair("Shirt", 0.05)])]);
    const waivers = [{ wearer: 1, pose: "sit", over: "Coat", by_shots: false, reason: "Never in picture" }];
    const cell = at(asked(trial, { waivers }), "1 sit");
    expect([cell.holds, cell.left]).toEqual([true, "Never in picture"]);
    expect(at(asked(trial, { waivers }), "2 sit").left).toBeNull();
  });

  it("count again what was left because no shot saw it, once one sees it", () => {
    const waivers = [{ wearer: 1, pose: "sit", over: "Coat", by_shots: true, reason: "No shot sees it" }];
    const seen = (area: number) =>
      at(asked(run([1, "sit", figures([pair("Coat", 2, { in_shots_cm2: area })])]), { waivers }), "1 sit");
    expect([seen(0).holds, seen(1.5).holds]).toEqual([true, false]);
  });

  it("hold by the shots where these see nothing, and say that something shows all the same", () => {
    const trial = run([1, "sit", figures([pair("Coat", 2, { in_shots_cm2: 0 })], { in_shots_cm2: 0, holes_cm2: 4 })]);
    const cell = at(asked(trial, { byShots: true }), "1 sit");
    expect([cell.holds, cell.unseen, cell.area]).toEqual([true, true, 0]);
  });

  it("are better or worse than in another run by more than the noise of sampling", () => {
    const other = run(
      [1, "sit", figures([pair("Coat", 1)])],
      [1, "kneel", figures([pair("Coat", 1)])],
      [2, "sit", figures([pair("Coat", 1)])],
    );
    const now = run(
      [1, "sit", figures([pair("Coat", 0.5)])],
      [1, "kneel", figures([pair("Coat", 1.01)])],
      [2, "sit", figures([pair("Coat", 1.4)])],
    );
    const cells = asked(now, { other });
    expect(["1 sit", "1 kneel", "2 sit", "2 kneel"].map((k) => at(cells, k).change)).toEqual([
      "better",
      "same",
      "worse",
      null,
    ]);
  });

  it("tell only one piece's pairs and causes where one is asked for", () => {
    const causes = [
      { over: "Coat", kind: "pose" },
      { over: "Shirt", kind: "weights" },
    ];
    const trial = run([1, "sit", { ...figures([pair("Coat", 2), pair("Shirt", 1)]), causes }]);
    const cell = at(asked(trial, { piece: "Shirt" }), "1 sit");
    expect([cell.area, cell.cause]).toEqual([1, "The weights"]);
  });
});

it("a motion's cell stands in its worst frame", () => {
  const cell = { wearer: 1, pose: "motion:walk", figures: { rotations: { l_hip: [0, 0, 0, 1] }, frame: 17 } } as never;
  expect(stanceOf(production, cell)).toMatchObject({ label: "Walk, frame 17", name: "motion:walk-17" });
  expect(stanceOf(production, { wearer: 1, pose: "sit", figures: {} } as never)?.label).toBe("Sit");
});
