// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, describe, expect, test } from "vitest";
import type { StepProps } from "../../../src/bench/step";
import clearing from "../../../src/bench/steps/clear";
import { fresh, type StepOf } from "../../../src/recipe/recipe";
import { house, Refusal } from "../../house";
import { settled, shown } from "../../shown";
import {
  aCell,
  aFitting,
  aPiece,
  aPose,
  aProduction,
  aTrial,
  type Changes,
  figures,
  pair,
  panelProps,
  received,
  room,
  roomNow,
} from "../../world";

const BOUND = [fresh("receive"), fresh("fit"), fresh("bind")];
const ROTATED = { l_hip: [0.6, 0, 0, 0.8] };
const place = (name: string, depth_mm: number, area_cm2 = 0.5) => ({
  name,
  depth_mm,
  area_cm2,
  centre: [0.1, 0.2, depth_mm / 100] as [number, number, number],
  seen_along: [0, 0, 1] as [number, number, number],
  in_shots_cm2: null,
  shots: [],
});
const KNEE = pair("Oilskin coat", "Smock", -3.2, { area_cm2: 0.8, places: [place("left knee", 3.2, 0.8)] });
const TOES = pair("Oilskin coat", "Skin", -9.8, {
  area_cm2: 1.4,
  places: [place("left toes", 9.8, 1.4), place("Skin", 1.1)],
});

interface Set {
  piece?: Changes;
  pairs?: ReturnType<typeof pair>[] | null;
  trial?: ReturnType<typeof aTrial> | null;
  others?: Changes[];
  answers?: Record<string, unknown>;
  pose?: ReturnType<typeof aPose>;
}

beforeEach(() => room());

/** The coat between what lies over and under it, in a pose in which these pairs show. */
async function opened({
  piece,
  pairs = [KNEE, TOES],
  trial = null,
  others,
  answers,
  pose = aPose("kneel", "Kneeling", { rotations: ROTATED }),
}: Set = {}) {
  const coat = aPiece({ rail: 1, steps: BOUND, ...piece });
  const beside = others ?? [
    { id: 5, name: "Smock", rail: 0, geometry: "bb02", finished: "bb0f" },
    { id: 9, name: "Storm cape", rail: 2, geometry: "cc03" },
  ];
  const pieces = [coat, ...beside.map(aPiece)];
  const production = aProduction({ pieces, poses: [aPose("stand", "Standing"), pose] });
  const measured = pairs
    ? ({ figures: figures(pairs), frame: {} } as unknown as StepProps["fitting"]["measured"])
    : undefined;
  const fitting = aFitting(production, {
    pose,
    chosen: pose,
    measured,
    asked: { shape: { belly: 0.1 }, pose: "kneel", body: null },
  });
  const server = house({
    "GET /api/trials/latest": trial,
    "GET /api/plans/latest": null,
    "GET /api/waivers": [],
    ...answers,
  });
  const { props, kept } = panelProps(coat, { production, fitting });
  const page = await shown(<clearing.Panel {...props} />);
  await settled();
  return { page, kept, server, fitting, production, last: () => kept.at(-1)?.step as StepOf<"clear"> };
}

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

describe("the whole outfit, here", () => {
  const PLAN = {
    id: 12,
    cell: { wearer: 1, pose: "kneel" },
    state: "ready",
    done: 4,
    total: 4,
    lines: [
      {
        piece: 7,
        piece_name: "Oilskin coat",
        words: "eased out",
        cells: 1,
        before_cm2: 2.2,
        after_cm2: 0,
        greatest_move_mm: 6.25,
      },
      {
        piece: 5,
        piece_name: "Smock",
        words: "skin gives way",
        cells: 1,
        before_cm2: 1,
        after_cm2: 0,
        greatest_move_mm: 0,
      },
    ],
    cells: [
      { wearer: 1, pose: "kneel", before_cm2: 2.2, after_cm2: 0.01, clearance_mm: 1, why: "" },
      { wearer: 2, pose: "kneel", before_cm2: 0, after_cm2: 0.3, clearance_mm: 1, why: "" },
      { wearer: 3, pose: "kneel", before_cm2: 0.3, after_cm2: 0.31, clearance_mm: 1, why: "" },
    ],
    why: "",
  };

  test("is tried for this cell alone", async () => {
    const { page, server } = await opened({ answers: { "POST /api/plans": { ...PLAN, state: "planning" } } });
    await page.press("Try it");
    await settled();
    expect(server.sent("POST /api/plans")).toEqual([{ wearer: 1, pose: "kneel" }]);
  });

  test("says what it came to, what moves, and what gets worse beside it", async () => {
    const { page, server } = await opened({
      answers: { "GET /api/plans/latest": PLAN, "POST /api/plans/12/carry-out": PLAN },
    });
    for (const words of [
      "2.20 → 0.01 cm²",
      "moves 6.3 mm",
      "skin gives way",
      "1 wearer shows a little more in this pose",
    ])
      expect(page.text()).toContain(words);
    await page.press("Carry it out");
    await settled();
    expect(server.sent("POST /api/plans/12/carry-out")).toHaveLength(1);
  });

  test("what was carried out can be taken back as one", async () => {
    const { page, server } = await opened({
      answers: { "GET /api/plans/latest": { ...PLAN, state: "done" }, "POST /api/plans/12/undo": PLAN },
    });
    expect(page.text()).toContain(", carried out");
    expect(page.has("button", "Put it aside")).toBe(false);
    await page.press("Take it all back");
    await settled();
    expect(server.sent("POST /api/plans/12/undo")).toHaveLength(1);
  });

  test("while it is computed it says how far it is, and can be stopped", async () => {
    const planning = { ...PLAN, state: "planning", done: 1, total: 3, lines: [] };
    const { page, server } = await opened({
      answers: { "GET /api/plans/latest": planning, "DELETE /api/plans/12": undefined },
    });
    expect(page.text()).toContain("trying, 33 %");
    await page.press("Stop");
    await settled();
    expect(server.sent("DELETE /api/plans/12")).toHaveLength(1);
  });

  test("a plan for another cell, or one put aside, says nothing here", async () => {
    for (const other of [
      { cell: { wearer: 2, pose: "kneel" } },
      { cell: null },
      { state: "cancelled" },
      { state: "undone" },
    ]) {
      const { page } = await opened({ answers: { "GET /api/plans/latest": { ...PLAN, ...other } } });
      expect(page.has("button", "Try it")).toBe(true);
      await page.close();
    }
  });

  test("a cell that holds, or that is not on the sheet, has nothing to try", async () => {
    const clean = await opened({ pairs: [pair("Oilskin coat", "Smock", 2.1)] });
    expect(clean.page.disabled("Try it")).toBe(true);
  });
});

describe("why, and what would help", () => {
  const CAUSES = [
    { cause: { kind: "pose", words: "kneeling: at rest it is gone", left_cm2: 0, is_cause: true } },
    { cause: { kind: "shape", words: "Ibbet's shape", left_cm2: 1.2, is_cause: false } },
  ];
  const remedy = (kind: string, words: string, doing: object, to: object = {}) => ({
    remedy: {
      kind,
      words,
      do: doing,
      area_cm2: 0,
      depth_mm: 0,
      move_mm: 4,
      edges_percent: 0,
      folds_degrees: 2.5,
      hidden: 0,
      worse: 1,
      neighbours: 2,
      holds: true,
      cost: 1,
      ...to,
    },
  });
  const stream =
    (...lines: object[]) =>
    () =>
      new Response(lines.map((l) => `${JSON.stringify(l)}\n`).join(""));
  const asked = async (lines: object[], more: Record<string, unknown> = {}) => {
    const all = await opened({
      answers: {
        "POST /api/explain": stream(...lines, { done: true, trying: "" }),
        "PUT /api/pieces/7/recipe": {},
        "PUT /api/pieces/5/recipe": {},
        ...more,
      },
    });
    await all.page.press("Why, and what would help?");
    await settled();
    return all;
  };
  const steps = (all: { server: { sent(key: string): unknown[] } }, piece = 7) =>
    (all.server.sent(`PUT /api/pieces/${piece}/recipe`)[0] as { recipe: { steps: { kind: string }[] } }).recipe.steps;

  test("is asked of the worst pair, and of another when that is chosen", async () => {
    const { page, server } = await asked(CAUSES);
    expect(server.sent("POST /api/explain")).toMatchObject([
      { over: "Oilskin coat", under: "Skin", wearer: 1, ease: 0.004 },
    ]);
    expect(page.rows("[aria-label=Causes] li")).toEqual(["kneeling: at rest it is gone"]);
    expect(page.text()).toContain("1 more undone, and not the cause");
    expect(page.text()).toContain("1.20 cm² left");
    await page.choose("What shows", "Smock");
    await page.press("Why, and what would help?");
    await settled();
    expect(server.sent("POST /api/explain")[1]).toMatchObject({ under: "Smock" });
  });

  test("remedies say what they cost, the best first", async () => {
    const { page } = await asked([
      remedy("ease", "Ease Oilskin coat out", {}, { cost: 3, holds: false, area_cm2: 0.25, hidden: 1200 }),
      remedy("tuck", "Tuck Smock in", {}, { cost: 1 }),
    ]);
    expect(page.rows("[aria-label=Remedies] li")).toEqual([
      "Tuck Smock inholdsDo itmoves 4.0 mm · folds 2.5° · 1 neighbour worse",
      "Ease Oilskin coat out0.25 cm² leftDo itmoves 4.0 mm · folds 2.5° · 1,200 faces hidden · 1 neighbour worse",
    ]);
  });

  test.each([
    [
      "ease",
      { piece: "Oilskin coat", way: "out", keep: "pose" },
      7,
      [{ kind: "clear", way: "out", keep: "pose", outer: ["cc03"] }],
    ],
    [
      "tuck",
      { piece: "Smock", way: "in", keep: "rest" },
      5,
      [{ kind: "clear", way: "in", keep: "rest", over: [], outer: ["aa01", "cc03"] }],
    ],
    ["hide", { piece: "Oilskin coat", hide: true }, 7, [{ kind: "hide", of: "skin", by_hand: false }]],
    ["adjust", { piece: "Oilskin coat", values: { waist: 0.4 } }, 7, [{ kind: "fix", values: { waist: 0.4 } }]],
    ["refine", { piece: "Oilskin coat", refine: 0.012, way: "out", keep: "pose" }, 7, [{ kind: "clear" }]],
    [
      "drape",
      { piece: "Oilskin coat", drape: { ...fresh("drape"), fabric: "oilskin" } },
      7,
      [{ kind: "drape", fabric: "oilskin", over: ["bb0f"] }],
    ],
  ])("%s does what it says, to the piece it names", async (kind, doing, piece, expected) => {
    const all = await asked([remedy(kind, "Do so", doing)]);
    await all.page.press("Do it: Do so");
    await settled();
    const made = steps(all, piece);
    expect(made.slice(-expected.length)).toMatchObject(expected);
    expect(made.some((s) => s.kind === "refine")).toBe(kind === "refine");
  });

  test("hiding is safe only if every wearer of that body was asked in every pose", async () => {
    const all = await asked([remedy("hide", "Hide the skin", { piece: "Oilskin coat", hide: true })]);
    await all.page.press("Do it: Hide the skin");
    await settled();
    expect((steps(all).at(-1) as StepOf<"hide">).cells).toHaveLength(3 * 2);
  });

  test("a reorder goes past what lies between, one step at a time", async () => {
    const moves: unknown[] = [];
    const all = await asked([remedy("reorder", "Wear it under Smock", { swap: "Smock" })], {
      "POST /api/pieces/7/move": (one: { body: unknown }) => {
        moves.push(one.body);
        return {};
      },
    });
    await all.page.press("Do it: Wear it under Smock");
    await settled();
    expect(moves).toEqual([{ outwards: false }]);
  });

  test("left as it is for what the shots see: the reason is kept with the cell", async () => {
    const all = await asked([remedy("leave", "Leave it", { reason: "never seen from camera A" })], {
      "POST /api/waivers": {},
    });
    expect(all.page.text()).toContain("unseen");
    await all.page.press("Do it: Leave it");
    await settled();
    expect(all.server.sent("POST /api/waivers")).toEqual([
      { wearer: 1, pose: "kneel", over: "Oilskin coat", reason: "never seen from camera A", by_shots: true },
    ]);
  });

  test("a question that fails says why, and can be asked again", async () => {
    const { page } = await opened({
      answers: { "POST /api/explain": new Refusal(422, "nothing shows there", "the cell", "Measure it anew.") },
    });
    await page.press("Why, and what would help?");
    await settled();
    expect(page.text()).toContain("the cell: nothing shows there. Measure it anew.");
    expect(page.has("button", "Why, and what would help?")).toBe(true);
  });

  test("when nothing helps, that is said", async () => {
    const { page } = await asked([]);
    expect(page.text()).toContain("No one factor alone: pose and shape together.");
    expect(page.text()).toContain("Nothing that was tried makes it better.");
  });
});

describe("left as it is", () => {
  test("takes a reason; blanks are none", async () => {
    const { page, server } = await opened({ answers: { "POST /api/waivers": {} } });
    await page.press("Leave it as it is…");
    await page.write("Reason to leave it", "   ", null);
    expect(page.disabled("Leave it")).toBe(true);
    await page.write("Reason to leave it", " under the desk ", null);
    await page.press("Leave it");
    await settled();
    expect(server.sent("POST /api/waivers")).toEqual([
      { wearer: 1, pose: "kneel", over: "Oilskin coat", reason: "under the desk", by_shots: false },
    ]);
  });

  test("says who left it and why, and counts again on a press", async () => {
    const left = {
      id: 3,
      wearer: 1,
      pose: "kneel",
      over: "Oilskin coat",
      reason: "under the desk",
      by_shots: false,
      author: "Wren",
      made_at: "",
    };
    const { page, server } = await opened({
      answers: { "GET /api/waivers": [left], "DELETE /api/waivers/3": undefined },
    });
    expect(page.text()).toContain("Left as it is: under the desk (Wren)");
    await page.press("Count it again");
    await settled();
    expect(server.sent("DELETE /api/waivers/3")).toHaveLength(1);
  });
});

describe("hiding what is covered", () => {
  const draw = () =>
    act(async () =>
      roomNow().lasso?.(
        [1, 2],
        [
          [0, 0],
          [0.5, 0],
          [0.5, 0.5],
        ],
      ),
    );
  const LASSO = { faces: [1, 2, 3], safe: [1, 2], count: 900, added: 3, cells: 6, open: [] };
  const drawn = async (found: object, piece: Changes = {}) => {
    const all = await opened({ piece, answers: { "POST /api/pieces/7/lasso": { ...LASSO, ...found } } });
    await all.page.press("Draw round it to hide the skin under it");
    await draw();
    await settled();
    return { ...all, hidden: () => all.kept.at(-1)?.step as StepOf<"hide"> };
  };

  test("all that no one can see goes, asked in every cell, of skin or of the piece", async () => {
    const { page, kept } = await opened();
    await page.press("Hide the unseen");
    expect(kept[0]?.step).toMatchObject({
      kind: "hide",
      of: "skin",
      by_hand: false,
      faces: [],
      rings: 2,
      cells: Array(6).fill(expect.anything()),
      over: ["bb0f"],
      outer: ["cc03"],
    });
  });

  test("a line drawn round it says what would go, and goes by hand", async () => {
    const { page, server, hidden } = await drawn({});
    expect(server.sent("POST /api/pieces/7/lasso")).toEqual([
      {
        cell: { shape: { belly: 0.1 }, pose: "kneel", body: null },
        of: "skin",
        how: "hide",
        clip: [1, 2],
        outline: [
          [0, 0],
          [0.5, 0],
          [0.5, 0.5],
        ],
      },
    ]);
    expect(page.text()).toContain("3 faces more would go; 3 hidden in all.");
    expect(page.text()).toContain("Missed in none of 6 cells.");
    await page.press("Hide it");
    expect(hidden()).toMatchObject({ faces: [1, 2, 3], by_hand: true, cells: [], count: 0 });
  });

  test("where a hole would open only what no one can miss is offered first", async () => {
    const { page, hidden, kept } = await drawn({ open: [{ wearer: "Corvane", pose: "Kneeling", area_cm2: 2.34 }] });
    expect(page.text()).toContain("A hole would open in 1 of 6 cells");
    expect(page.text()).toContain("Corvane, kneeling2.3 cm²");
    await page.press("Hide only what no one can miss");
    expect(hidden().faces).toEqual([1, 2]);
    expect(kept[0]?.label).toBe("Hide by hand");
  });

  test("a hole can be meant, and is called one", async () => {
    const { page, hidden, kept } = await drawn({ open: [{ wearer: "Corvane", pose: "Kneeling", area_cm2: 2.34 }] });
    await page.press("Hide it all the same");
    expect([hidden().faces, kept[0]?.label]).toEqual([[1, 2, 3], "Hide by hand, with a hole"]);
  });

  test("an empty line says so and offers nothing", async () => {
    const { page } = await drawn({ added: 0, faces: [] });
    expect(page.text()).toContain("Nothing of the skin under it lies within the line.");
    expect(page.has("button", "Hide it")).toBe(false);
    await page.press("Leave it");
    await settled();
    expect(page.text()).not.toContain("lies within the line");
  });

  test("of the piece itself the count of its faces is kept, so that another mesh is noticed", async () => {
    const all = await opened({ answers: { "POST /api/pieces/7/lasso": LASSO } });
    await all.page.press("Draw round it to hide this piece, under others");
    await draw();
    await settled();
    await all.page.press("Hide it");
    expect(all.kept[0]?.step).toMatchObject({ of: "cloth", count: 900 });
  });

  test("what is hidden is told, and brought back by a line", async () => {
    const hide = { faces: 1204, of: 9000, cells: 6, by_hand: false };
    const { page, server } = await opened({
      piece: { report: { hide } },
      answers: { "POST /api/pieces/7/lasso": { ...LASSO, added: -4 } },
    });
    expect(page.text()).toContain("1,204 faces hidden, seen in none of 6 cells");
    await page.press("Bring back the skin under it");
    await draw();
    await settled();
    expect(server.sent("POST /api/pieces/7/lasso")).toMatchObject([{ how: "show" }]);
    expect(page.text()).toContain("4 faces would come back");
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
