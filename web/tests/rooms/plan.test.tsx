// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import { settled } from "../shown";
import { aPlan, planLine, planned, room, roomNow } from "../world";

import { opened } from "./sheet";

beforeEach(() => room({ sheet: true }));

describe("the plan", () => {
  const PLAN = aPlan({
    lines: [planLine(7, "Oilskin coat", "eased out where it shows", 2.5, 0.3, 7)],
    cells: [
      planned(1, "kneel", 0.5, 0),
      planned(2, "stand", 2, 0.3, "the coat is too short there"),
      planned(1, "stand", 0, 0),
    ],
  });

  test("says what it comes to, what is left and why; that leads to the cell", async () => {
    const { page } = await opened({ answers: { "GET /api/plans/latest": PLAN } });
    for (const words of [
      "1 → 2 of 3 cells hold · 2.5 → 0.3 cm²",
      "2.5 → 0.3 cm²",
      "moves 7.0 mm",
      "1 cell would be left",
      "Corvane, standing · 0.30 cm² · the coat is too short there",
    ])
      expect(page.text()).toContain(words);
    await page.press("Corvane, standing");
    expect(roomNow()).toMatchObject({ wearer: 2, pose: "stand", step: "clear", sheet: false });
  });

  test("is made for the whole sheet, carried out, put aside", async () => {
    const { page, server } = await opened({
      answers: {
        "GET /api/plans/latest": PLAN,
        "POST /api/plans": {},
        "POST /api/plans/8/carry-out": {},
        "DELETE /api/plans/8": undefined,
      },
    });
    await page.press("Clear the sheet");
    await page.press("Carry it out");
    await settled();
    await page.press("Put it aside");
    await settled();
    const done = server.asked.filter((a) => a.method !== "GET").map((a) => `${a.method} ${a.path}`);
    expect(done).toEqual(["POST /api/plans", "POST /api/plans/8/carry-out", "DELETE /api/plans/8"]);
  });

  test("one that was carried out is taken back as one; one that was put aside is gone", async () => {
    const { page, server } = await opened({
      answers: { "GET /api/plans/latest": { ...PLAN, state: "done" }, "POST /api/plans/8/undo": {} },
    });
    await page.press("Take it all back");
    await settled();
    expect(server.sent("POST /api/plans/8/undo")).toHaveLength(1);
    await page.close();
    const aside = await opened({ answers: { "GET /api/plans/latest": { ...PLAN, state: "cancelled" } } });
    expect(aside.page.has("section", "Plan")).toBe(false);
  });

  test("one in the making says how far it is, and no second is begun", async () => {
    const { page } = await opened({
      answers: { "GET /api/plans/latest": { ...PLAN, state: "planning", done: 3, total: 12, lines: [], cells: [] } },
    });
    expect(page.text()).toContain("trying what clears it, 25 %");
    expect(page.disabled("Clear the sheet")).toBe(true);
  });

  test("one that failed says why", async () => {
    const { page } = await opened({
      answers: {
        "GET /api/plans/latest": {
          ...PLAN,
          state: "failed",
          lines: [],
          cells: [],
          why: "a worker stopped; nothing was changed",
        },
      },
    });
    expect(page.text()).toContain("a worker stopped; nothing was changed");
  });
});
