// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import fitting from "../../../src/bench/steps/fit";
import { FitPanel } from "../../../src/bench/steps/fit/FitPanel";
import { fresh, type StepOf } from "../../../src/recipe/recipe";
import { frameOf } from "../../framed";
import { house } from "../../house";
import { picked, settled, shown } from "../../shown";
import { aMesh, aPiece, type Changes, panelProps, room, roomNow } from "../../world";

const FIT = { ...fresh("fit"), ease: 0.009, keep: 0.9 };
const UNDER = [
  { name: "Smock", geometry: "bb02" },
  { name: "Base layer", geometry: "cc03" },
];
const REPORT = {
  ease: 0.009,
  judged: 3100,
  below_ease: 12,
  resting: 2100,
  resting_mean: 0.00912,
  resting_spread: 0.0004,
  least: 0.0071,
  greatest_move: 0.03,
  edge_log_spread: 0.0123,
  align_move: 0.01,
  made_for: null,
  at_ease: 0.964,
  size: 1.031,
  confidence: 0.93,
  stance: {},
  trouble: [],
  said: [],
  hint: null,
  elsewhere: null,
};
const BUTTONS = [
  { row: 0, vertices: 4100, size: 1.1, material: "oilskin", stiff: false, middle: [0, 1, 0] },
  { row: 4100, vertices: 30, size: 0.021, material: "horn", stiff: true, middle: [0, 1, 0.1] },
  { row: 4130, vertices: 30, size: 0.4, material: "belt", stiff: false, middle: [0, 1, 0.1] },
];

beforeEach(() => room());

async function opened(piece: Changes = {}, more: Parameters<typeof panelProps>[1] = {}, answers = {}) {
  const server = house({
    "GET /api/landmarks": [
      { name: "left shoulder", at: [0.2, 1.4, 0] },
      { name: "crown", at: [0, 1.7, 0] },
    ],
    "GET /api/pieces/7/parts": BUTTONS,
    ...answers,
  });
  const { props, kept } = panelProps(aPiece({ steps: [fresh("receive"), FIT], ...piece }), more);
  const page = await shown(<FitPanel {...props} wearer={1} />);
  await settled();
  const last = () => kept.at(-1)?.step as StepOf<"fit">;
  return { page, kept, server, last, props };
}

test("ease and cling are shown in mm and per cent, and kept in metres when the hand lets go", async () => {
  const { page, kept } = await opened();
  expect(page.text()).toContain("9.0 mm");
  expect(page.text()).toContain("10 %");
  await page.slide("Ease", 4);
  expect(kept.at(-1)).toEqual({ step: { ...FIT, ease: 0.011 }, label: "Fit to 11 mm" });
  await page.slide("Keep or cling", -1);
  expect(kept.at(-1)?.step).toMatchObject({ keep: 0.95 });
});

test("what was taken back by undo is shown as it stands again", async () => {
  const { page, props } = await opened({ steps: [fresh("receive"), { ...FIT, ease: 0.02 }] });
  expect(page.text()).toContain("20.0 mm");
  await page.render(<FitPanel {...props} piece={aPiece({ edit: 30, steps: [fresh("receive"), FIT] })} wearer={1} />);
  expect(page.text()).toContain("9.0 mm");
  await page.slide("Ease", 10);
  await page.render(<FitPanel {...props} piece={aPiece({ edit: 29, steps: [fresh("receive")] })} wearer={1} />);
  expect(page.text()).toContain(`${((fresh("fit").ease ?? 0) * 1000).toFixed(1)} mm`);
});

test("a box changes its own field alone", async () => {
  const { page, kept } = await opened();
  await page.tick("find its place on the body");
  await page.tick("all of it keeps its form");
  expect(kept.map((k) => k.step)).toEqual([
    { ...FIT, align: false },
    { ...FIT, align: false, stiff: "all" },
  ]);
  expect(kept[1]?.label).toBe("Keep its form");
});

test("to bring a piece over from a body is offered where that body is known", async () => {
  const known = { ...fresh("receive"), made_for: { name: "Corvane", body: "", shape: {} } };
  const { page, last } = await opened({ steps: [known, FIT] });
  await page.tick("bring it over from Corvane");
  expect(last().ride).toBe(false);
  await page.close();
  expect((await opened()).page.text()).not.toContain("bring it over");
});

test("it rests on all that lies under it, or on the skin alone", async () => {
  const { page, kept, last } = await opened({}, { under: UNDER });
  await page.tick("rests on smock and base layer too");
  expect(last().over).toEqual(["bb02", "cc03"]);
  await page.tick("rests on smock and base layer too");
  expect(last().over).toEqual([]);
  expect(kept.map((k) => k.label)).toEqual(["Rest on what is under it", "Rest on the skin"]);
});

describe("pins", () => {
  test("a clicked point is pinned to the landmark, beside those that are", async () => {
    const pins = { crown: [0, 1.8, 0] as [number, number, number] };
    const { page, last } = await opened({ steps: [fresh("receive"), { ...FIT, pins }] });
    await page.press("Pin");
    expect(roomNow().picking).toMatchObject({ kind: "pin", landmark: "left shoulder" });
    await picked([]); // beside the piece
    expect(last()).toBeUndefined();
    await picked([9], [[0.19, 1.41, 0.02]]);
    expect(last().pins).toEqual({ ...pins, "left shoulder": [0.19, 1.41, 0.02] });
  });

  test("a pin taken out leaves the others", async () => {
    const pins = { crown: [0, 1.8, 0], navel: [0, 1, 0.1] } as Record<string, [number, number, number]>;
    const { page, last } = await opened({ steps: [fresh("receive"), { ...FIT, pins }] });
    expect(page.text()).toContain("Pins (2)");
    await page.press("crown");
    expect(last().pins).toEqual({ navel: pins.navel });
  });
});

describe("painted ease", () => {
  test("a stroke adds what was asked for where its dabs overlap, not many times that", async () => {
    const { page, last } = await opened();
    await page.press("Stroke");
    await picked(Array.from({ length: 64 }, (_, i) => i));
    const dabs = last().paint ?? [];
    expect(dabs.map((d) => d.at)).toEqual(Array.from({ length: 16 }, (_, i) => 4 * i));
    expect(Math.hypot(...dabs.map((d) => d.value))).toBeCloseTo(0.006, 9);
    expect(new Set(dabs.map((d) => d.radius))).toEqual(new Set([roomNow().hand.radius]));
  });

  test("the next stroke comes on top, and all can be made even again", async () => {
    const paint = [{ at: 3, radius: 0.05, value: 0.004 }];
    const { page, last } = await opened({ steps: [fresh("receive"), { ...FIT, paint }] });
    await page.slide("More or less here", -8);
    await page.press("Stroke");
    await picked([12]);
    expect(last().paint).toEqual([...paint, { at: 12, radius: roomNow().hand.radius, value: -0.002 }]);
    await page.press("Even ease again");
    expect(last().paint).toEqual([]);
  });
});

test("of the loose parts those that are stiff keep their form, until the artist says otherwise", async () => {
  const { page, last } = await opened();
  expect([page.ticked("horn 1"), page.ticked("belt 2")]).toEqual([true, false]);
  await page.tick("horn 1");
  expect(last()).toMatchObject({ rigid: [], cloth: [4100] });
  await page.tick("belt 2");
  expect(last()).toMatchObject({ rigid: [4130], cloth: [4100] });
});

test("the report says what was reached, and where it fell short", async () => {
  const report = {
    ...REPORT,
    said: ["It lies on the left arm, not on the chest."],
    hint: "Place it by a pin.",
    trouble: [{ name: "left armpit", vertices: 14, worst: 0.0042, at: [0, 0, 0] as [number, number, number] }],
  };
  const { page } = await opened({ report: { fit: report } });
  for (const words of [
    "12 of 3100 vertices",
    "96.4 % of what rests",
    "93 %",
    "× 1.031",
    "1.2 % spread",
    "left armpit",
    "14 vertices, 4.2 mm off",
    "Place it by a pin.",
  ])
    expect(page.text()).toContain(words);
  expect(page.named("[role=alert]", "It lies on the left arm")).toBeTruthy();
});

test("what was not sized says no size", async () => {
  const { page } = await opened({ report: { fit: { ...REPORT, size: 1.004, at_ease: null } } });
  expect(page.text()).not.toContain("Sized by");
  expect(page.text()).not.toContain("Within 1 mm");
});

describe("while a slider moves", () => {
  const moved = frameOf({ points: new Float32Array([...Array(12).keys()]) }, { report: {} });

  test("the fit is asked for at most once at a time, and the newest last", async () => {
    const waiting: ((frame: ArrayBuffer) => void)[] = [];
    const { page, server } = await opened(
      {},
      { mesh: aMesh() },
      { "POST /api/pieces/7/fit-preview": () => new Promise((done) => waiting.push(done)) },
    );
    await page.slide("Ease", 3);
    const eases = () =>
      server.sent("POST /api/pieces/7/fit-preview").map((b) => (b as { step: StepOf<"fit"> }).step.ease);
    expect(eases()).toEqual([0.0095]);
    waiting[0]?.(moved);
    await settled();
    expect(eases()).toEqual([0.0095, 0.0105]);
    waiting[1]?.(moved);
    await settled();
    expect(eases()).toHaveLength(2);
  });

  test("a piece that is not fitted yet shows no preview", async () => {
    const { page, server } = await opened({ steps: [fresh("receive")] }, { mesh: aMesh() });
    await page.slide("Ease", 3);
    expect(server.asked.filter((a) => a.method === "POST")).toEqual([]);
  });
});

test("the closed step states the ease that was reached, or the one asked for", () => {
  expect(fitting.summary(aPiece({ report: { fit: REPORT } }))).toBe("ease 9.1 ± 0.4 mm");
  expect(fitting.summary(aPiece({ report: { fit: { ...REPORT, resting_mean: null } } }))).toBe("ease 9 mm");
  expect(fitting.summary(aPiece())).toBe("");
});
