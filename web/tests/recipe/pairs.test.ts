import { describe, expect, it } from "vitest";
import type { Figures, Trial } from "../../src/api/client";
import { clearanceNamed, freshCells, layerNames, type Pair, pairsOver, worstPair } from "../../src/recipe/pairs";

const pair = (over: string, under: string, clearance: number, places: [string, number][] = [], at = ""): Pair =>
  ({
    over,
    under,
    clearance_mm: clearance,
    at,
    area_cm2: places.length,
    places: places.map(([name, depth]) => ({ name, depth_mm: depth, area_cm2: 1 })),
  }) as unknown as Pair;
const figures = (...pairs: Pair[]) => ({ pairs }) as unknown as Figures;

describe("names of layers", () => {
  it("tells two pieces of one name apart from the skin out, however the rail is listed", () => {
    const rail = [
      { id: 1, name: "Scarf", rail: 5 },
      { id: 2, name: "Scarf", rail: 1 },
      { id: 3, name: "Skin", rail: 2 },
    ];
    for (const order of [rail, [...rail].reverse()]) {
      const names = layerNames(order);
      expect([names.get(2), names.get(3), names.get(1)]).toEqual(["Scarf", "Skin 2", "Scarf 2"]);
    }
  });

  it("leaves no two alike where a piece is called like another's second", () => {
    const names = layerNames(["Coat", "Coat 2", "Coat"].map((name, i) => ({ id: i, name, rail: i })));
    expect(new Set(names.values()).size).toBe(3);
  });
});

describe("the number between two cards", () => {
  it("says the depth, the layer and the place where something shows", () => {
    expect(clearanceNamed(pair("Boots", "Skin", -9.84, [["left toes", 9.84]]))).toBe("−9.8 mm over Skin, left toes");
  });

  it("says the least clearance and the layer alone where nothing shows", () => {
    expect(clearanceNamed(pair("Coat", "Smock", 2.31, [], "chest"))).toBe("2.3 mm over Smock");
  });

  it("says the layer once where its place has no other name", () => {
    expect(clearanceNamed(pair("Coat", "Smock", -1, [["Smock", 1]]))).toBe("−1.0 mm over Smock");
  });
});

describe("the pair that decides", () => {
  const [deep, shallow, near, far] = [
    pair("Coat", "Smock", -3, [["chest", 3]]),
    pair("Coat", "Skin", -1, [["wrist", 1]]),
    pair("Coat", "Belt", 0.2),
    pair("Hat", "Skin", 4),
  ];

  it("is the deepest that shows, then the nearest", () => {
    expect(worstPair(figures(far, near, shallow, deep))).toBe(deep);
    expect(worstPair(figures(far, near))).toBe(near);
    expect(worstPair(undefined)).toBeUndefined();
  });

  it("is told for each piece over all that lies under it", () => {
    expect(pairsOver(figures(far, near, shallow, deep), "Coat")).toEqual([deep, shallow, near]);
    expect(pairsOver(figures(far), "Coat")).toEqual([]);
  });
});

it("shows no figures of a cell that has changed since it was measured", () => {
  const trial = {
    cells: [
      { wearer: 1, stale: true, figures: { area_cm2: 1 } },
      { wearer: 1, stale: false, figures: { area_cm2: 2 } },
      { wearer: 2, stale: false, figures: { area_cm2: 3 } },
    ],
    of_outfit: null,
  } as unknown as Trial;
  const cast = [
    { id: 1, outfit: 1 },
    { id: 2, outfit: 7 },
  ];
  const areas = (run: Trial | null) => freshCells(run, cast).map((c) => c.figures?.area_cm2 ?? null);
  expect(areas(trial)).toEqual([null, 2, 3]);
  expect(areas({ ...trial, of_outfit: 7 })).toEqual([null, null, 3]); // nobody else has that on
  expect(areas(null)).toEqual([]);
});
