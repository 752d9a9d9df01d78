// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, describe, expect, test } from "vitest";
import type { StepOf } from "../../../src/recipe/recipe";
import { settled } from "../../shown";
import { type Changes, room, roomNow } from "../../world";

import { opened } from "./clearing";

beforeEach(() => room());

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
