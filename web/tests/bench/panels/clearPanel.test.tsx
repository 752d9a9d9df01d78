// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import clearing from "../../../src/bench/steps/clear";
import { fresh } from "../../../src/recipe/recipe";
import { aCell, aPiece, aPose, aTrial, figures, pair, received, room, roomNow } from "../../world";

import { BOUND, KNEE, opened, ROTATED } from "./clearing";

beforeEach(() => room());

describe("what shows", () => {
  test("is listed deepest first, whatever it shows through", async () => {
    const { page } = await opened();
    expect(page.rows("table tr")).toEqual([
      "Skin, left toes1.40 cm²9.8 mm",
      "Smock, left knee0.80 cm²3.2 mm",
      "Skin0.50 cm²1.1 mm",
    ]);
  });

  test("is looked at from where it is seen, on a press", async () => {
    const { page } = await opened();
    await page.press("Skin, left toes");
    expect(roomNow().look).toMatchObject({ target: [0.1, 0.2, 0.098], eye: [0.1, 0.2, expect.closeTo(1.198, 9)] });
  });

  test("an unmeasured cell promises nothing, a clean one says so", async () => {
    expect((await opened({ pairs: null })).page.text()).toContain("Measuring this cell…");
    const clean = await opened({ pairs: [pair("Oilskin coat", "Smock", 2.1)] });
    expect(clean.page.text()).toContain("Nothing under it shows through in this cell.");
    expect(clean.page.disabled("Ease out here")).toBe(true);
  });

  test("a piece that is not bound has first to be bound", async () => {
    const { page } = await opened({ piece: { steps: [fresh("receive")] } });
    expect(page.text()).toContain("Bind the piece first");
    expect(page.has("button", "Ease out here")).toBe(false);
  });
});

describe("clearing here", () => {
  test("asks for this cell, without the body its recipe knows, between what lies under and over", async () => {
    const { page, kept, last } = await opened();
    await page.press("Ease out here");
    expect(last()).toEqual({
      kind: "clear",
      cells: [{ shape: { belly: 0.1 }, pose: "kneel" }],
      ease: 0.004,
      keep: "pose",
      way: "out",
      loose: "falls",
      over: ["bb0f"], // as it is finished
      outer: ["cc03"],
    });
    expect(kept[0]?.label).toBe("Ease out, Ibbet kneeling");
  });

  test("by another way, with another ease, kept for good", async () => {
    const { page, last } = await opened();
    await page.choose("Moves", "in");
    await page.slide("Ease to", 4);
    await page.choose("Keep it", "rest");
    await page.press("Tuck in here");
    expect(last()).toMatchObject({ way: "in", ease: 0.006, keep: "rest" });
  });

  test("tucking in is offered under another piece, giving way where skin shows", async () => {
    const { page } = await opened({ pairs: [KNEE] });
    expect(await page.options("Moves")).toEqual(["the piece, outwards", "the piece, in under what lies over it"]);
    await page.close();
    const outermost = await opened({ others: [{ id: 5, name: "Smock", rail: 0, geometry: "bb02" }] });
    expect(await outermost.page.options("Moves")).toEqual(["the piece, outwards", "the skin, which gives way"]);
  });

  test("skin gives way in a pose, so what holds best for the cloth is not asked of it", async () => {
    const { page, last } = await opened();
    await page.choose("Keep it", "best");
    await page.choose("Moves", "skin");
    expect(await page.options("Keep it")).not.toContain("as holds best in other poses");
    await page.press("Give way here");
    expect(last()).toMatchObject({ way: "skin", keep: "pose" });
  });

  test("a skirt falls where it is stretched, though nothing shows, or is eased out like the rest", async () => {
    const skirt = { report: { receive: received({ vertices: 1000 }), bind: { hangs: 400 } as never } };
    const { page, last } = await opened({ piece: skirt, pairs: [] });
    await page.press("Clear it here");
    expect(last()).toMatchObject({ loose: "falls" });
    await page.choose("About the legs", "eased");
    expect(page.disabled("Ease out here")).toBe(true); // nothing shows, and nothing falls
  });

  test("at rest there is nothing a skirt could fall into", async () => {
    const skirt = { report: { receive: received({ vertices: 1000 }), bind: { hangs: 400 } as never } };
    const { page } = await opened({ piece: skirt, pairs: [], pose: aPose("rest", "Rest") });
    expect(page.disabled("Ease out here")).toBe(true);
  });
});

describe("clearing all failing cells", () => {
  const failing = figures([KNEE]);
  const holds = figures([pair("Oilskin coat", "Smock", 2)]);

  test("takes each wearer's own shape and each pose's own turns", async () => {
    const own = aPose("by-hand", "Bent over", { family: "own", rotations: ROTATED });
    const { page, last, kept } = await opened({
      pose: own,
      trial: aTrial([
        aCell(2, "by-hand", failing),
        aCell(1, "stand", holds),
        aCell(3, "stand", failing),
        aCell(1, "by-hand", null),
      ]),
    });
    await page.press("In all 2 failing cells");
    expect(last().cells).toEqual([
      { shape: { belly: 0.6 }, pose: "by-hand", rotations: ROTATED },
      { shape: {}, pose: "stand" },
    ]);
    expect(kept[0]?.label).toBe("Ease out in 2 cells");
  });

  test("without a sheet it is offered to be measured", async () => {
    const { page } = await opened();
    expect(page.disabled("In all  failing cells")).toBe(true);
    await page.press("Measure the sheet first");
    expect(roomNow().sheet).toBe(true);
  });

  test("nothing is begun while the piece is worked out", async () => {
    const { page } = await opened({ piece: { status: "waiting" }, trial: aTrial([aCell(2, "stand", failing)]) });
    expect([page.disabled("Ease out here"), page.disabled("In all 1 failing")]).toEqual([true, true]);
  });
});
test("what the last clearing came to is told by cell, with what it left and what fell", async () => {
  const cell = {
    kept: true,
    why: null,
    before: { clearance_mm: -3, area_cm2: 2.2, places: 1 },
    after: { clearance_mm: 2, area_cm2: 0, places: 0 },
    moved: 0.1,
    greatest_move: 0.02,
    fell: false,
    stretch: null,
    pose: "kneel",
  };
  const clear = [
    {
      cleared: 1,
      of: 3,
      ways: [
        { keep: "pose" as const, here: 0, apart: 1.5 },
        { keep: "rest" as const, here: 0.2, apart: 2 },
      ],
      cells: [
        cell,
        { ...cell, kept: false, moved: 0.2 },
        { ...cell, stretch: [1.9, 1.2] as [number, number], moved: 0.3 },
      ],
    },
  ];
  const { page } = await opened({
    piece: { steps: [...BOUND, { ...fresh("clear"), cells: [{ shape: {}, pose: "kneel" }] }], report: { clear } },
  });
  expect(page.rows("ul.mt-2 li")).toEqual([
    "For the pose, taken0.00 cm² here, 1.50 elsewhere",
    "For good0.20 cm² here, 2.00 elsewhere",
    "Kneeling2.20 → 0.00 cm²",
    "Kneeling2.20 → 0.00 cm², left: it would get worse",
    "Kneeling2.20 → 0.00 cm²fell, stretched 1.9 → 1.2 times",
  ]);
  expect(clearing.summary(aPiece({ report: { clear } }))).toBe("1 of 3 cells cleared");
});

test("the hand tools are taken up for this pose, without those that protect", async () => {
  const { page } = await opened();
  await page.press("Take the tools up");
  expect(roomNow().hand.tool).toBe("pull");
  expect(page.has("button", "Protect")).toBe(false);
  await page.press("Put the tools down");
  expect(roomNow().hand.tool).toBeNull();
});
