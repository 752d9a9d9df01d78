// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, describe, expect, test, vi } from "vitest";
import type { Step } from "../../../src/api/client";
import working from "../../../src/bench/steps/work";
import { TOOLS, describe as words } from "../../../src/bench/tool";
import { fresh, workOf } from "../../../src/recipe/recipe";
import { frameOf } from "../../framed";
import { house } from "../../house";
import { picked, settled, shown } from "../../shown";
import { aMesh, aPiece, panelProps, room, roomNow } from "../../world";

const STEPS: Step[] = [fresh("receive"), fresh("fit"), fresh("bind")];
const ADJUSTERS = {
  adjusters: [
    { name: "waist", label: "Waist", group: "width", more: "let out", less: "take in" },
    { name: "hem", label: "Hem", group: "length", more: "drop", less: "raise" },
  ],
  openings: [
    { name: "left cuff", label: "Left cuff", end: [0.6, 1, 0], way: [1, 0, 0] },
    { name: "right cuff", label: "Right cuff", end: [-0.6, 1, 0], way: [-1, 0, 0] },
    { name: "hem", label: "Hem", end: [0, 0.5, 0], way: [0, -1, 0] },
  ],
};
const MOVES = {
  delta_rows: new Int32Array([0, 1]),
  delta_steps: new Int16Array([1000, 0, 0, 0, 500, 0]),
  delta_counts: new Int32Array([1, 1]),
};
const PARTS = [
  { row: 0, vertices: 4100, size: 1.1, material: "oilskin", stiff: false, middle: [0, 1, 0] },
  { row: 4100, vertices: 30, size: 0.021, material: "horn", stiff: true, middle: [0, 1, 0.1] },
  { row: 4130, vertices: 30, size: 0.02, material: "horn", stiff: true, middle: [0, 1, 0.1] },
];

beforeEach(() => room());

async function opened(work: Step[] = [], more: Parameters<typeof panelProps>[1] = {}, report = {}) {
  house({
    "GET /api/pieces/7/adjusters": frameOf(MOVES, ADJUSTERS),
    "GET /api/pieces/7/parts": PARTS,
  });
  const steps = [...STEPS.slice(0, 2), ...work, ...STEPS.slice(2)];
  const { props, recipes } = panelProps(aPiece({ steps, report }), more);
  const page = await shown(<working.Panel {...props} />);
  await settled();
  return { page, recipes, last: () => workOf(recipes.at(-1)?.recipe ?? { body: "", steps: [] }) };
}

describe("adjusters", () => {
  const letGo = () => act(async () => vi.advanceTimersByTime(400));
  const still = async (work: () => Promise<void>) => {
    vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
    await work().finally(() => vi.useRealTimers());
  };

  test("they stand in groups, and a slide is kept once the hand rests", async () => {
    const { page, recipes, last } = await opened();
    expect(page.rows("section h3")).toEqual(["width", "length"]);
    await still(async () => {
      await page.slide("Waist", 3);
      expect(recipes).toEqual([]);
      await letGo();
    });
    expect(recipes.map((r) => r.label)).toEqual(["Waist: let out"]);
    expect(last()).toEqual([{ kind: "adjust", values: { waist: 0.06 }, clear: true, ease: 0.004 }]);
  });

  test("another slide joins the adjusters made last; all at 0 leaves no alteration", async () => {
    const made: Step = { kind: "adjust", values: { waist: 0.02 }, clear: false, ease: 0.004 };
    const { page, last } = await opened([fresh("smooth"), made]);
    await still(async () => {
      await page.slide("Hem", -1);
      await letGo();
    });
    expect(last()).toEqual([fresh("smooth"), { ...made, values: { waist: 0.02, hem: -0.02 } }]);
    await page.press("All back to 0");
    expect(last()).toEqual([fresh("smooth")]);
  });

  test("kept for the pose on the stage they become its corrective, in place of the alteration", async () => {
    const made: Step = { kind: "adjust", values: { waist: 0.3 }, clear: true, ease: 0.004 };
    const { page, recipes } = await opened([made]);
    await page.press("Only in standing");
    const steps = recipes[0]?.recipe.steps ?? [];
    expect(steps.map((s) => s.kind)).toEqual(["receive", "fit", "bind", "fix"]);
    expect(steps.at(-1)).toMatchObject({ cell: { shape: {}, pose: "stand" }, values: { waist: 0.3 } });
  });
});

describe("cutting", () => {
  const onCut = async (work: Step[] = [], more = {}) => {
    const all = await opened(work, more);
    await all.page.press("Cut");
    await settled();
    return all;
  };

  test("a sleeve is shortened by its length along its way, hemmed", async () => {
    const { page, last, recipes } = await onCut();
    await page.write("by, cm", "10");
    await page.press("Cut");
    expect(recipes).toEqual([]); // the tab of that name
    await act(async () => [...page.page.querySelectorAll("button")].filter((b) => b.textContent === "Cut")[1]?.click());
    expect(recipes[0]?.label).toBe("Shorten left cuff by 10 cm");
    expect(last()).toEqual([
      {
        kind: "trim",
        cut: { by: "plane", point: [0.5, 1, 0], normal: [1, 0, 0] },
        off: [0.6, 1, 0],
        hem: 0.02,
        thick: 0.0015,
      },
    ]);
  });

  test("both of a pair are cut alike, and what has no pair is not offered as one", async () => {
    const { page, last } = await onCut();
    expect(await page.options("Shorten at")).toEqual(["both cuffs", "Left cuff", "Right cuff", "Hem"]);
    await page.choose("Shorten at", "both cuff");
    await act(async () => [...page.page.querySelectorAll("button")].filter((b) => b.textContent === "Cut")[1]?.click());
    const points = last().map((s) => (s as { cut: { point: number[] } }).cut.point);
    expect(points).toEqual([
      [expect.closeTo(0.48), 1, 0],
      [expect.closeTo(-0.48), 1, 0],
    ]);
  });

  const line = (n: number, step: number): [number, number, number][] =>
    Array.from({ length: n }, (_, i) => [i * step, 1, 0]);

  test("a drawn line opens as a slit, with the hem asked for", async () => {
    const { page, last } = await onCut();
    await page.write("Hem, cm", "0");
    await page.press("Draw a cut");
    await picked([], line(12, 0.02));
    expect(page.text()).toContain("A line.");
    await page.press("Open as a slit");
    expect(last()).toEqual([
      { kind: "trim", cut: { by: "curve", points: line(12, 0.02), closed: false }, off: null, hem: 0, thick: 0.0015 },
    ]);
  });

  test("a line that comes back to where it began is closed; the part that is clicked comes off", async () => {
    const { page, last } = await onCut();
    await page.press("Draw a cut");
    await picked([], line(12, 0.003));
    expect(page.text()).toContain("A closed line.");
    await page.press("Take a part off");
    expect(roomNow().picking?.kind).toBe("off");
    await picked([5], [[0.01, 1, 0]]);
    expect(last()).toMatchObject([{ kind: "trim", off: [0.01, 1, 0], cut: { closed: true } }]);
    expect(page.text()).not.toContain("A closed line.");
  });

  test("a click where a line was asked for is told, and nothing is cut", async () => {
    const { page, recipes } = await onCut();
    await page.press("Draw a cut");
    await picked([3], [[0, 1, 0]]);
    expect(roomNow().saying?.kind).toBe("problem");
    expect(recipes).toEqual([]);
  });

  test("what is dragged over is cut out at the brush's radius, each place once", async () => {
    const { page, last } = await onCut();
    await page.press("Cut out");
    expect([page.pressed("Drag over it…"), roomNow().hand.tool]).toEqual(["true", null]);
    await picked([4, 4, 9, 4]);
    expect(last()).toMatchObject([{ kind: "trim", cut: { by: "selection", rows: [4, 9], radius: 0.06 } }]);
  });

  test("steam takes creases below a width in the cloth's own measure", async () => {
    const { page, last } = await onCut();
    await page.write("Creases under, cm", "90");
    expect(page.value("Creases under, cm")).toBe("30.0"); // no wider than a fold of the house's limits
    await page.press("Steam");
    await picked([7, 8, 7]);
    expect(last()).toMatchObject([{ kind: "steam", rows: [7, 8], radius: 0.06, crease: 0.3 }]);
  });

  test("each press is one more alteration after those before", async () => {
    const before = fresh("smooth");
    const { page, last } = await onCut([before]);
    const made: [string, object][] = [
      ["Mirror left", { kind: "mirror", keep: "left" }],
      ["Mirror right", { kind: "mirror", keep: "right" }],
      ["Refine at joints", { kind: "refine", where: "joints" }],
      ["Refine all", { kind: "refine", where: "all" }],
      ["Smooth", fresh("smooth")],
      ["Thicken", { kind: "thicken", thick: 0.002 }],
    ];
    for (const [name, step] of made) {
      await page.press(name);
      expect(last()).toMatchObject([before, step]);
    }
  });

  test.each([
    ["80", 0.05],
    ["0", 0.0002],
    ["3,5", 0.0035],
  ])("cloth asked to be %s mm thick becomes %s m", async (typed, thick) => {
    const { page, last } = await onCut();
    await page.write("Thickness, mm", typed);
    await page.press("Thicken");
    expect(last()).toMatchObject([{ kind: "thicken", thick }]);
  });

  test("loose parts come off one by one or all, the cloth itself never", async () => {
    const { page, last } = await onCut();
    expect(page.text()).toContain("Loose parts (2)");
    await page.press("Take all of them off");
    expect(last()).toEqual([{ kind: "drop", parts: [4100, 4130] }]);
    await page.press("Take off");
    expect(last()).toEqual([{ kind: "drop", parts: [4100] }]);
  });
});

describe("by hand", () => {
  const byHand = async (work: Step[] = [], more = {}) => {
    const all = await opened(work, more);
    await all.page.press("By hand");
    return all;
  };

  test("the tab takes the first tool up and another tab puts it down", async () => {
    const { page } = await byHand();
    expect(roomNow().hand.tool).toBe("pull");
    await page.press("Adjusters");
    expect(roomNow().hand.tool).toBeNull();
  });

  test("the brush is sized in centimetres, its strength in per cent", async () => {
    const { page } = await byHand();
    await page.slide("Radius", 5);
    await page.slide("Strength", -2);
    expect(roomNow().hand).toMatchObject({ radius: expect.closeTo(0.07, 9), strength: expect.closeTo(0.9, 9) });
    expect(page.text()).toContain("7.0 cm");
    expect(page.text()).toContain("90 %");
  });

  test("what only one tool uses is shown with that tool", async () => {
    const { page } = await byHand();
    expect([page.text().includes("elastic"), page.text().includes("Press to")]).toEqual([true, false]);
    await page.press("Press");
    expect([page.text().includes("elastic"), page.text().includes("Press to")]).toEqual([false, true]);
    await page.slide("Press to", 2);
    expect(roomNow().hand.offset).toBeCloseTo(0.005, 9);
  });

  test("a lattice stands a centimetre off the piece on every side", async () => {
    const mesh = aMesh(undefined, 2);
    mesh.source.points.set([-0.2, 0.5, -0.1, 0.3, 1.5, 0.1]);
    const { page, last } = await byHand([], { mesh });
    await page.press("Lattice round it");
    const near = (values: number[]) => values.map((v) => expect.closeTo(v, 6));
    expect(last()).toEqual([
      { kind: "lattice", low: near([-0.21, 0.49, -0.11]), high: near([0.31, 1.51, 0.11]), cells: [2, 3, 2], knots: [] },
    ]);
  });

  test("its cells are between 2 and 6, and other cells have knots of their own", async () => {
    const lattice = { ...fresh("lattice"), cells: [2, 3, 2], knots: [{ at: 0, move: [0.1, 0, 0] }] } as Step;
    const { page, last } = await byHand([lattice]);
    await page.write("Up,", "9");
    expect(last()).toMatchObject([{ cells: [2, 6, 2], knots: [] }]);
    await page.press("Remove");
    expect(last()).toEqual([]);
  });
});

test("what was done is listed with its outcome, and any of it taken back", async () => {
  const work: Step[] = [fresh("smooth"), { kind: "drop", parts: [9] }, { kind: "thicken", thick: 0.003 }];
  const nothing = {
    kind: "",
    tool: null,
    touched: null,
    lost: 0,
    unknown: [],
    moved: null,
    removed: null,
    slit: false,
    cut: null,
    borders: null,
    vertices: null,
    triangles: null,
  };
  const report = {
    work: [
      { ...nothing, moved: 0.012 },
      { ...nothing, removed: 60 },
      { ...nothing, lost: 2, vertices: 900 },
    ],
  };
  const { page, recipes, last } = await opened(work, {}, report);
  expect(page.rows("ol li")).toEqual([
    "1Smooth1.2 cm",
    "2Take parts off60 faces off",
    "3Thicken 3.0 mmits place was cut away",
  ]);
  await page.press("Take Take parts off back");
  expect(last()).toEqual([work[0], work[2]]);
  expect(recipes[0]?.label).toBe("Without take parts off");
});

test("every kind of work the server knows can be told in words", () => {
  const kinds = TOOLS.map((tool) => tool.kind);
  expect(new Set(kinds).size).toBe(kinds.length);
  const cut = { by: "selection" as const, rows: [], radius: 0.1 };
  const steps: Step[] = [
    { kind: "adjust", values: { a: 0.2, b: 0, c: -1 }, clear: true, ease: 0.004 },
    { kind: "trim", cut, hem: 0, thick: 0.001 },
    { kind: "trim", cut: { by: "curve", points: [], closed: false }, hem: 0, thick: 0.001 },
    { ...fresh("stroke"), tool: "iron" },
    { kind: "mirror", keep: "right" },
    { kind: "refine", where: "all", longest: 0.01 },
  ];
  expect(steps.map(words)).toEqual(["Adjust 2", "Cut out", "Slit", "Iron", "Mirror the right half", "Refine"]);
});

test("the closed step counts its alterations", () => {
  const made = (n: number) => working.summary(aPiece({ steps: Array.from({ length: n }, () => fresh("smooth")) }));
  expect([made(0), made(1), made(2)]).toEqual(["", "1 alteration", "2 alterations"]);
});
