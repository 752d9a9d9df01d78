// @vitest-environment jsdom
import { expect, test } from "vitest";
import { BindFacts } from "../../src/bench/steps/bind/BindFacts";
import { ClearedCells } from "../../src/bench/steps/clear/ClearedCells";
import { ShownPlaces } from "../../src/bench/steps/clear/ShownPlaces";
import { useRoom } from "../../src/store/room";
import { shown } from "../shown";

const place = (name: string, depth_mm: number) => ({
  under: "Shirt",
  place: { name, depth_mm, area_cm2: 0.256, centre: [depth_mm / 1000, 1.2, 0.1], seen_along: [0, 0, 1] },
});
const places = (...all: [string, number][]) =>
  all.map(([name, depth]) => place(name, depth)) as unknown as Parameters<typeof ShownPlaces>[0]["places"];

test("where something shows is listed with its area and depth, six at most, and looked at by a click", async () => {
  const eight = places(...Array.from({ length: 8 }, (_, k) => [`place ${k}`, 8 - k] as [string, number]));
  const page = await shown(<ShownPlaces places={eight} measured />);
  const rows = page.rows("tr");
  expect(rows).toHaveLength(6);
  expect(rows[0]).toContain("Shirt, place 0");
  expect(rows[0]).toContain("0.26 cm²");
  expect(rows[0]).toContain("8.0 mm");
  await page.press("Shirt, place 3");
  const { look } = useRoom.getState();
  expect(look?.target).toEqual([0.005, 1.2, 0.1]);
  expect(look?.eye[2]).toBeGreaterThan(0.1); // from the side it is seen from
  await page.close();
});

test("nothing shown is told from not measured yet", async () => {
  for (const [measured, words] of [
    [true, "Nothing under it shows through in this cell."],
    [false, "Measuring this cell…"],
  ] as const) {
    const page = await shown(<ShownPlaces places={[]} measured={measured} />);
    expect(page.text()).toBe(words);
    await page.close();
  }
});

test("a clearing says what each cell came to, what was left, and why one was passed over", async () => {
  const last = {
    ways: [
      { keep: "pose", here: 0, apart: 0.4 },
      { keep: "rest", here: 0.1, apart: 1.25 },
    ],
    cells: [
      {
        pose: "kneel",
        before: { area_cm2: 3.5, places: 2 },
        after: { area_cm2: 0.1 },
        kept: true,
        moved: 40,
        stretch: [2.4, 1.3],
      },
      {
        pose: "sit",
        before: { area_cm2: 1, places: 1 },
        after: { area_cm2: 1.5 },
        kept: false,
        moved: 0,
        stretch: null,
      },
      { pose: "own-7", before: null, after: null, why: "nothing shows", kept: false, moved: 0, stretch: null },
    ],
  } as unknown as Parameters<typeof ClearedCells>[0]["last"];
  const poses = [{ name: "kneel", label: "Kneeling" }] as Parameters<typeof ClearedCells>[0]["poses"];
  const page = await shown(<ClearedCells last={last} poses={poses} />);
  const [first, second, kneel, sit, own] = page.rows("li");
  expect(first).toContain("For the pose, taken");
  expect(second).toContain("For good");
  expect(second).not.toContain("taken");
  expect(kneel).toContain("Kneeling");
  expect(kneel).toContain("3.50 → 0.10 cm²");
  expect(kneel).toContain("stretched 2.4 → 1.3 times");
  expect(kneel).not.toContain("left:");
  expect(sit).toContain("left: it would get worse");
  expect(own).toContain("nothing shows");
  await page.close();
});

test("weights say where they came from", async () => {
  const report = (more: object) =>
    ({ accepted: 0.8, solved: 0.2, hangs: 0, joints: 27, most: 4, parts: [], ...more }) as unknown as Parameters<
      typeof BindFacts
    >[0]["report"];
  for (const [more, words, absent] of [
    [{}, ["80 %", "20 %", "27, at most 4 a vertex"], "legs"],
    [{ hangs: 12, legs: { stretch: 1.42, depth_mm: 3.2 } }, ["12 vertices", "1.4 times, legs 3 mm through"], "carried"],
    [{ carried_by: "left hand", spring: true, links: 3, length_mm: 240 }, ["left hand, 3 links of 8.0 cm"], "80 %"],
    [{ own: true, joints_unknown: ["tail"] }, ["its own, in part"], "80 %"],
  ] as [object, string[], string][]) {
    const page = await shown(<BindFacts report={report(more)} />);
    for (const word of words) expect(page.text()).toContain(word);
    expect(page.text()).not.toContain(absent);
    await page.close();
  }
});
