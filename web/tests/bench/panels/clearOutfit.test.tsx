// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import { settled } from "../../shown";
import { aPlan, pair, planLine, planned, room } from "../../world";

import { opened } from "./clearing";

beforeEach(() => room());

describe("the whole outfit, here", () => {
  const PLAN = aPlan({
    id: 12,
    cell: { wearer: 1, pose: "kneel" },
    lines: [planLine(7, "Oilskin coat", "eased out", 2.2, 0, 6.25), planLine(5, "Smock", "skin gives way", 1, 0, 0)],
    cells: [planned(1, "kneel", 2.2, 0.01), planned(2, "kneel", 0, 0.3), planned(3, "kneel", 0.3, 0.31)],
  });

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
