// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import { settled } from "../shown";
import { aCell, aPiece, aPose, aProduction, aTrial, aWaiver, aWearer, room, roomNow } from "../world";

import { clean, opened, production, TRIAL, through } from "./sheet";

beforeEach(() => room({ sheet: true }));

describe("the sheet", () => {
  test("says how many cells hold, and each tile says what it is in words", async () => {
    const { page, tiles } = await opened();
    expect(page.text()).toContain("1 of 4 cells hold · measured in 4.2 s");
    expect(tiles()).toEqual([
      "Ibbet, standing: holds",
      "Ibbet, kneeling: shows through, 0.50 square centimetres",
      "Corvane, standing: shows through, 2.00 square centimetres",
      "Corvane, kneeling: not measured",
    ]);
  });

  test("a cell that has changed since shows no figure", async () => {
    const { tiles, page } = await opened({
      trial: aTrial([aCell(1, "stand", clean, { stale: true })], { stale: true }),
    });
    expect(tiles()[0]).toBe("Ibbet, standing: not measured since the last change");
    expect(page.text()).not.toContain("2.1 mm");
    expect(page.text()).toContain("before the last change");
  });

  test("folds back onto the cell that is clicked", async () => {
    room({ sheet: true, live: { belly: 1 } });
    const { page } = await opened();
    await page.press("Corvane, standing");
    expect(roomNow()).toMatchObject({ sheet: false, wearer: 2, pose: "stand", live: null });
  });

  test("a motion's cell opens at its worst frame, as a pose of its own", async () => {
    const rotations = { l_hip: [0.6, 0, 0, 0.8] };
    const moving = aProduction({
      cast: production.cast,
      poses: [],
      motions: [{ name: "row", label: "Rowing", seconds: 3 }],
    });
    const { page } = await opened({
      production: moving,
      trial: aTrial([aCell(1, "motion:row", { ...through(1), frame: 31, of_frames: 76, rotations })]),
    });
    await page.press("Ibbet, rowing, worst");
    expect(roomNow()).toMatchObject({ sheet: false, panel: "poses", posing: { rotations } });
  });

  test("worst first, with pinned cells before all; by place, and by cause", async () => {
    const causes = [{ over: "Oilskin coat", under: "Skin", kind: "shape", words: "the shape" }];
    const trial = aTrial([
      aCell(1, "stand", clean),
      aCell(1, "kneel", through(0.5), { causes }),
      aCell(2, "stand", through(2)),
    ]);
    const { page, tiles } = await opened({ trial, answers: { "GET /api/pins": [{ wearer: 1, pose: "stand" }] } });
    await page.choose("Order", "worst");
    expect(tiles().map((t) => t?.split(":")[0])).toEqual([
      "Ibbet, standing",
      "Corvane, standing",
      "Ibbet, kneeling",
      "Corvane, kneeling",
    ]);
    await page.choose("Order", "place");
    expect(page.rows("h3")).toEqual(["Oilskin coat over Skin, left toes · 2", "Holds · 1", "Not measured · 1"]);
    await page.choose("Order", "cause");
    expect(page.rows("h3")).toEqual([
      "The wearer's shape · 1",
      "Not explained yet · 1",
      "Holds · 1",
      "Not measured · 1",
    ]);
  });

  test("the cells that are not explained are explained on request", async () => {
    const { page, server } = await opened({ answers: { "POST /api/trials/4/causes": {} } });
    await page.choose("Order", "cause");
    await page.press("Explain 2 cells");
    await settled();
    expect(server.asked.filter((a) => a.method === "POST").map((a) => a.path)).toEqual(["/api/trials/4/causes"]);
  });

  test("one piece alone counts, if asked", async () => {
    const { page, tiles } = await opened();
    await page.choose("Piece", "Smock");
    expect(
      tiles()
        .slice(0, 3)
        .map((t) => t?.split(": ")[1]),
    ).toEqual(["holds", "holds", "holds"]);
  });

  test("what no shot sees can be left out of the count, and is told apart from what holds", async () => {
    const shot = { name: "A", eye: [0, 1, 4], target: [0, 1, 0], up: [0, 1, 0], lens: 0.4, frame: 1.8 } as never;
    const seen = aProduction({ ...production, shots: [{ id: 1, shot, wearer: null, pose: null }] });
    const { page, tiles } = await opened({ production: seen });
    await page.choose("Counts", "shots");
    expect(tiles()[1]).toBe("Ibbet, kneeling: shows where no shot sees it");
    expect(tiles()[0]).toBe("Ibbet, standing: holds");
  });

  test("a cell left as it is holds with its reason, and is counted as such", async () => {
    const left = aWaiver(1);
    const { page, tiles } = await opened({ answers: { "GET /api/waivers": [left] } });
    expect(tiles()[1]).toBe("Ibbet, kneeling: left as it is: under the desk");
    expect(page.text()).toContain("2 of 4 cells hold (1 left as they are)");
  });

  test("beside another run each cell says whether it is better or worse", async () => {
    const brief = { id: 3, started_at: "2026-11-29T10:00:00Z", state: "done", total: 4, done: 4, holding: 2 };
    const before = aTrial([aCell(1, "stand", clean), aCell(1, "kneel", clean), aCell(2, "stand", through(5))], {
      id: 3,
    });
    const { page, tiles } = await opened({
      answers: { "GET /api/trials": [brief, { ...brief, id: 4 }], "GET /api/trials/3": before },
    });
    expect((await page.options("Beside")).length).toBe(2); // not beside itself
    await page.choose("Beside", "3");
    await settled();
    expect(page.text()).toContain("1 better, 1 worse, 1 same");
    expect(tiles().slice(1, 3)).toEqual([
      expect.stringContaining("worse than before"),
      expect.stringContaining("better than before"),
    ]);
  });

  test("a cell is pinned and let go", async () => {
    const { page, server } = await opened({
      answers: { "PUT /api/pins": {}, "GET /api/pins": [{ wearer: 2, pose: "stand" }] },
    });
    await page.press("Pin Ibbet, standing");
    await page.press("Take the pin out of Corvane, standing");
    await settled();
    expect(server.sent("PUT /api/pins")).toEqual([
      { wearer: 1, pose: "stand", pinned: true },
      { wearer: 2, pose: "stand", pinned: false },
    ]);
  });
});

describe("measuring", () => {
  test("before the first run it says what to press", async () => {
    const { page, server } = await opened({ trial: null, answers: { "POST /api/trials": { id: 5 } } });
    expect(page.text()).toContain("Press “Measure the sheet” to fill it.");
    await page.press("Measure the sheet");
    await settled();
    expect(server.sent("POST /api/trials")).toHaveLength(1);
  });

  test("a run says how far it is and about how long it takes, and can be cancelled", async () => {
    const { page, server } = await opened({
      trial: { ...TRIAL, state: "running", done: 1, seconds: 2.5 },
      answers: { "DELETE /api/trials/4": undefined },
    });
    expect(page.text()).toContain("1 of 4 cells, about 8 s left");
    await page.press("Cancel");
    await settled();
    expect(server.sent("DELETE /api/trials/4")).toHaveLength(1);
  });

  test("nothing is measured while a piece is worked out, or with an empty rail", async () => {
    const busy = await opened({ production: aProduction({ pieces: [aPiece({ status: "waiting" })] }) });
    expect(busy.page.text()).toContain("The pieces are being worked out…");
    expect(["Measure again", "Hunt", "Clear the sheet"].map(busy.page.disabled)).toEqual([true, true, true]);
    await busy.page.close();
    const empty = await opened({ production: aProduction({ pieces: [] }) });
    expect(empty.page.disabled("Measure again")).toBe(true);
  });
});
test("a piece of the demo's rail that is worn twice stands once in the list", async () => {
  const { page } = await opened({ production: aProduction({ pieces: [aPiece(), aPiece({ id: 9 })] }) });
  expect(await page.options("Piece")).toEqual(["all of the rail", "Oilskin coat"]);
});

test("of a sheet of thousands of cells only those in sight stand on the page; worst first there is more on request", async () => {
  const poses = Array.from({ length: 20 }, (_, k) => aPose(`p${k}`, `Pose ${k}`));
  const cast = Array.from({ length: 60 }, (_, k) => aWearer(k + 1, `Hand ${k + 1}`));
  const cells = cast.flatMap((w) => poses.map((p) => aCell(w.id, p.name, through(0.2 + w.id / 100))));
  const { page, tiles } = await opened({ production: aProduction({ poses, cast }), trial: aTrial(cells) });
  expect(page.text()).toContain("Pose 19");
  expect(tiles().length).toBeLessThan(600);
  await page.choose("Order", "worst");
  expect(tiles()).toHaveLength(300);
  expect(tiles()[0]).toContain("Hand 60");
  await page.press("Show more: 900 are left");
  expect(tiles()).toHaveLength(600);
});
