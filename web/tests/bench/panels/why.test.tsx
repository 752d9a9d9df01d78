// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import { fresh, type StepOf } from "../../../src/recipe/recipe";
import { Refusal } from "../../house";
import { settled } from "../../shown";
import { aWaiver, room } from "../../world";

import { opened } from "./clearing";

beforeEach(() => room());

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
    const left = aWaiver(3);
    const { page, server } = await opened({
      answers: { "GET /api/waivers": [left], "DELETE /api/waivers/3": undefined },
    });
    expect(page.text()).toContain("Left as it is: under the desk (Wren)");
    await page.press("Count it again");
    await settled();
    expect(server.sent("DELETE /api/waivers/3")).toHaveLength(1);
  });
});
