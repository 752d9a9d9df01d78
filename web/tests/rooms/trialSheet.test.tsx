// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import type { Production, Trial } from "../../src/api/client";
import { TrialSheet } from "../../src/rooms/sheet/TrialSheet";
import { house } from "../house";
import { settled, shown } from "../shown";
import { aCell, aPiece, aPose, aProduction, aTrial, figures, pair, room, roomNow, said } from "../world";

const place = {
  name: "left toes",
  depth_mm: 3,
  area_cm2: 2,
  centre: [0, 0, 0],
  seen_along: [0, 0, 1],
  in_shots_cm2: 0,
  shots: [],
} as never;
const clean = figures([pair("Oilskin coat", "Smock", 2.1)]);
const through = (area: number) =>
  figures([pair("Oilskin coat", "Skin", -3, { area_cm2: area, places: [place], in_shots_cm2: 0 })], {
    in_shots_cm2: 0,
  });
const POSES = [aPose("stand", "Standing"), aPose("kneel", "Kneeling")];
const production = aProduction({ poses: POSES, cast: aProduction().cast.slice(0, 2) });
const TRIAL = aTrial(
  [aCell(1, "stand", clean), aCell(1, "kneel", through(0.5)), aCell(2, "stand", through(2)), aCell(2, "kneel", null)],
  { seconds: 4.2 },
);

beforeEach(() => room({ sheet: true }));

async function opened(to: { trial?: Trial | null; production?: Production; answers?: Record<string, unknown> } = {}) {
  const server = house({
    "GET /api/trials/latest": to.trial === undefined ? TRIAL : to.trial,
    "GET /api/trials": [],
    "GET /api/plans/latest": null,
    "GET /api/waivers": [],
    "GET /api/pins": [],
    "GET /api/motions": [],
    ...to.answers,
  });
  const page = await shown(<TrialSheet production={to.production ?? production} />);
  await settled();
  const tiles = () =>
    [...page.page.querySelectorAll(".group > button:first-child")].map((b) => b.getAttribute("aria-label"));
  return { page, server, tiles };
}

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
    const left = {
      id: 1,
      wearer: 1,
      pose: "kneel",
      over: "Oilskin coat",
      reason: "under the desk",
      by_shots: false,
      author: "Wren",
      made_at: "",
    };
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

describe("the plan", () => {
  const PLAN = {
    id: 8,
    cell: null,
    state: "ready",
    done: 9,
    total: 9,
    lines: [
      {
        piece: 7,
        piece_name: "Oilskin coat",
        words: "eased out where it shows",
        cells: 2,
        before_cm2: 2.5,
        after_cm2: 0.3,
        greatest_move_mm: 7,
      },
    ],
    cells: [
      { wearer: 1, pose: "kneel", before_cm2: 0.5, after_cm2: 0, clearance_mm: 1, why: "" },
      { wearer: 2, pose: "stand", before_cm2: 2, after_cm2: 0.3, clearance_mm: -1, why: "the coat is too short there" },
      { wearer: 1, pose: "stand", before_cm2: 0, after_cm2: 0, clearance_mm: 2, why: "" },
    ],
    why: "",
  };

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

describe("the hunt", () => {
  const FOUND = {
    name: "Ibbet and Corvane",
    wearer: null,
    shape: { belly: 0.3 },
    rotations: { l_hip: [1, 0, 0, 0] },
    picture: "pp",
    fails_on: 3,
    figures: through(4),
  };
  const HUNT = {
    id: 2,
    state: "done",
    seed: 5,
    done: 80,
    total: 80,
    failed: 2,
    worst: [FOUND, { ...FOUND, name: "Sella", wearer: 3, picture: "qq", fails_on: 1 }],
  };
  const hunting = async (hunt: unknown, answers: Record<string, unknown> = {}) => {
    const all = await opened({ answers: { "GET /api/hunts/latest": hunt, ...answers } });
    await all.page.press("Hunt");
    await settled();
    return all;
  };

  test("takes a number of poses within bounds, how far the joints go, and mixes of the cast", async () => {
    const { page, server } = await hunting(null, { "POST /api/hunts": HUNT });
    await page.write("Random poses", "9000", null);
    expect(page.value("Random poses")).toBe("400");
    await page.write("Mixes of wearers", "", null);
    expect(page.value("Mixes of wearers")).toBe("0");
    await page.choose("How far", "0.9");
    await page.page
      .querySelectorAll("button")
      .forEach((b) => void (b.textContent?.trim() === "Hunt" && b.closest("section[aria-label=Hunt]") && b.click()));
    await settled();
    expect(server.sent("POST /api/hunts")).toMatchObject([{ poses: 400, share: 0.9, mixes: 0 }]);
  });

  test("what was found is looked at, kept as a pose, and its mix as a wearer", async () => {
    const { page, server } = await hunting(HUNT, {
      "POST /api/poses/own": { name: "found" },
      "POST /api/poses": { name: "found" },
      "POST /api/wearers": {},
    });
    expect(page.text()).toContain("80 cells tried, 2 do not hold");
    expect(page.text()).toContain("Ibbet and Corvane and 2 more");
    await page.press("Pose");
    await settled();
    expect(said()?.text).toBe("Found 5.1 stands on the pose axis.");
    await page.press("Wearer");
    await settled();
    expect(server.sent("POST /api/wearers")).toMatchObject([{ name: "Ibbet and Corvane", shape: { belly: 0.3 } }]);
    expect(page.named<HTMLButtonElement>("button", "Look at Ibbet and Corvane").disabled).toBe(true); // a mix stands nowhere yet
    await page.press("Look at Sella, found 2");
    expect(roomNow()).toMatchObject({
      wearer: 3,
      sheet: false,
      panel: "poses",
      posing: { rotations: FOUND.rotations },
    });
  });

  test("nothing found is said, with what to do", async () => {
    const { page } = await hunting({ ...HUNT, failed: 0, worst: [] });
    expect(page.text()).toContain("Hunt again with other poses, or let the joints go farther.");
  });
});

test("a piece of the demo's rail that is worn twice stands once in the list", async () => {
  const { page } = await opened({ production: aProduction({ pieces: [aPiece(), aPiece({ id: 9 })] }) });
  expect(await page.options("Piece")).toEqual(["all of the rail", "Oilskin coat"]);
});
