// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import type { Fabric } from "../../../src/api/drape";
import draping from "../../../src/bench/steps/drape";
import { fresh, type StepOf } from "../../../src/recipe/recipe";
import { aPiece, room } from "../../world";

import { BOUND, FABRICS, opened } from "./draping";

beforeEach(() => room());

describe("what falls", () => {
  test("linen into this pose, where nothing else is asked for", async () => {
    const { page, played } = await opened();
    await page.press("Let it fall");
    expect(played()).toMatchObject({
      kind: "drape",
      fabric: FABRICS[0],
      cell: { shape: { belly: 0.1 }, pose: "stand" },
      motion: "",
      held: 0.04,
      gust: 0,
      keep: "pose",
      start: null,
    });
    expect(played().cell).not.toHaveProperty("body");
  });

  test("as the piece last fell: in that fabric, held so", async () => {
    const last = { ...fresh("drape"), fabric: FABRICS[2] as Fabric, held: 0.12, substeps: 35, pressure: 4 };
    const { page, played } = await opened({ piece: { steps: [...BOUND, last] } });
    await page.press("Let it fall");
    expect(played()).toMatchObject({ fabric: { name: "oilskin" }, held: 0.12, substeps: 35, pressure: 4 });
  });

  test("at rest, for good, it falls on the shape it was made on", async () => {
    const { page, played } = await opened({ piece: { recipe: { made_on: { belly: 0.4 } } } });
    await page.choose("Falls", "rest");
    await page.press("Let it fall");
    expect(played()).toMatchObject({ cell: { shape: { belly: 0.4 }, pose: "rest" }, keep: "rest" });
  });

  test("through a motion of the house it begins at rest; one of stock is not offered", async () => {
    const { page, played, falling } = await opened();
    expect(await page.options("Falls")).toEqual([
      "into this pose (standing)",
      "at rest, for good",
      "through rowing (3.2 s)",
    ]);
    await page.choose("Falls", "row");
    expect(falling.leave).toHaveBeenCalled(); // what was played before is put back
    await page.press("Let it fall");
    expect(played()).toMatchObject({ motion: "row", cell: { shape: { belly: 0.1 }, pose: "rest" }, keep: "pose" });
  });

  test("in the fabric and as it was set, though the panel was left for another room; another piece has its own", async () => {
    const one = await opened();
    await one.page.choose("Fabric", "oilskin");
    await one.page.choose("Falls", "rest");
    await one.page.close();
    const { page, played } = await opened();
    await page.press("Let it fall");
    expect(played()).toMatchObject({ fabric: { name: "oilskin" }, cell: { pose: "rest" } });
    await page.close();
    const other = await opened({
      piece: { id: 77 },
      answers: { "GET /api/pieces/77/falls": [], "GET /api/pieces/77/bake": null },
    });
    await other.page.press("Let it fall");
    expect(other.played()).toMatchObject({ fabric: { name: "linen" }, cell: { pose: "stand" } });
  });

  test("a piece that is not bound has first to be bound", async () => {
    const { page } = await opened({ piece: { steps: [fresh("receive")] } });
    expect(page.has("button", "Let it fall")).toBe(false);
  });
});

describe("what holds it and moves it", () => {
  test("each slider says its unit and falls in metres", async () => {
    const { page, played } = await opened();
    await page.slide("Worn at the top", 2);
    await page.slide("Padding", 3);
    await page.slide("Substeps a frame", 1);
    for (const words of ["5.0 cm", "1.5 N/m²", "25"]) expect(page.text()).toContain(words);
    await page.press("Let it fall");
    expect(played()).toMatchObject({ held: 0.05, pressure: 1.5, substeps: 25 });
  });

  test("wind blows from where it is said, in gusts only while it blows", async () => {
    const { page, played } = await opened();
    expect(page.has("[role=slider]", "Gusts")).toBe(false);
    await page.slide("Wind", 8);
    await page.choose("from", "2");
    await page.press("Let it fall");
    expect(played().wind).toEqual([-4, expect.closeTo(0), expect.closeTo(0)]);
    expect(played().gust).toBe(0.3);
    await page.slide("Wind", -8);
    await page.press("Let it fall");
    expect(Math.hypot(...played().wind)).toBe(0);
    expect(played().gust).toBe(0);
  });

  test("it can be cut to another wearer of the same body, not of another", async () => {
    const { page, played } = await opened();
    expect(await page.options("Cut to")).toEqual([
      expect.stringContaining("Ibbet"),
      expect.stringContaining("Corvane"),
    ]);
    await page.choose("Cut to", "2");
    await page.press("Let it fall");
    expect(played().start).toEqual({ belly: 0.6 });
  });
});

describe("what falls along", () => {
  const others = [
    { id: 3, name: "Smock", rail: 0, geometry: "s0" },
    { id: 9, name: "Sash", rail: 2, geometry: "h0" },
    { id: 11, name: "Storm cape", rail: 3, geometry: "c0" },
    { id: 12, name: "Lantern", rail: 4, geometry: "l0", steps: [fresh("receive")] },
  ];

  test("is any bound piece of the rail; what lies between stays as it is worn", async () => {
    const { page, played } = await opened({ others });
    expect(page.text()).not.toContain("Let Lantern fall");
    await page.tick("Let Storm cape fall too");
    await page.press("Let it fall");
    expect(played().along.map((a) => [a.piece, a.outside, a.falls])).toEqual([
      ["h0", true, false],
      ["c0", true, true],
    ]);
    expect(played().over).toEqual(["s0"]);
  });

  test("falls in its own fabric, and what falls is not fallen on", async () => {
    const { page, played } = await opened({ others });
    await page.tick("Let Smock fall too");
    await page.choose("Smock in", "oilskin");
    await page.press("Let it fall");
    expect(played().along).toMatchObject([{ piece: "s0", outside: false, falls: true, fabric: { name: "oilskin" } }]);
    expect(played().over).toEqual([]);
  });
});
test("the drapes a piece has are listed by where they were kept, and summed up", async () => {
  const step = (to: Partial<StepOf<"drape">>) => ({ ...fresh("drape"), fabric: FABRICS[2] as Fabric, ...to });
  const made = [
    step({ keep: "rest" }),
    step({ motion: "row", until: 31 }),
    step({ cell: { shape: {}, pose: "kneel" } }),
  ];
  const report = {
    frames: 40,
    vertices: 9,
    fabric: "oilskin",
    strain_mean: 0,
    strain_99: 0,
    speed: 0,
    bending_met: 1,
    shear_met: 1,
    sunk: 0,
  };
  const { page } = await opened({ piece: { steps: [...BOUND, ...made], report: { drape: [report] } } });
  const rows = page.rows("ul.mt-2 li");
  expect(rows[0]).toContain("40 frames");
  expect(rows[1]).toContain("row, frame 31");
  expect(rows[2]).toContain("Kneeling");
  expect(draping.summary(aPiece({ report: { drape: [report, report] } }))).toContain("oilskin");
});
