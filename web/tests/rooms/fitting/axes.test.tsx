// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import type { Trial } from "../../../src/api/client";
import { TopBar } from "../../../src/app/TopBar";
import { CastAxis, Corner, PoseAxis, worst } from "../../../src/rooms/fitting/Axes";
import { house } from "../../house";
import { settled, shown } from "../../shown";
import { aCell, aProduction, aTrial, aWearer, figures, pair, room, roomNow } from "../../world";

const at = (clearance: number) => figures([pair("Oilskin coat", "Smock", clearance)]);
const production = aProduction();
const TRIAL = aTrial([
  aCell(1, "stand", at(2)),
  aCell(1, "kneel", at(0.4)),
  aCell(2, "stand", at(-3)),
  aCell(2, "kneel", at(5)),
  aCell(3, "stand", at(-8), { stale: true }),
  aCell(3, "kneel", null),
]);

beforeEach(() => room());

async function opened(part: React.ReactNode, trial: Trial | null = TRIAL) {
  house({ "GET /api/trials/latest": trial, "GET /api/jobs": [] });
  const page = await shown(part);
  await settled();
  return page;
}

describe("the worst of a row", () => {
  test("is the deepest that shows, else the nearest to it", () => {
    expect(worst([aCell(1, "a", at(2)), aCell(1, "b", at(0.5))])).toMatchObject({ clearance: 0.5, holds: true });
    expect(worst([aCell(1, "a", at(0.5)), aCell(1, "b", at(-1)), aCell(1, "c", at(-4))])).toEqual({
      clearance: -4,
      holds: false,
      pair: "Oilskin coat over Smock",
    });
  });

  test("is nothing where nothing is measured", () => {
    expect(worst([])).toBeNull();
    expect(worst([aCell(1, "a", null)])).toBeNull();
  });

  test("of cells that hold does not hide behind one that fails with more clearance", () => {
    const failing = { ...at(0.2), holds: false, clearance_mm: 3 };
    expect(worst([aCell(1, "a", at(1)), aCell(1, "b", failing)])).toMatchObject({ clearance: 3, holds: false });
  });
});

describe("the cast and the poses", () => {
  test("each wearer wears the worst clearance of its row; what is stale counts for nothing", async () => {
    const page = await opened(<CastAxis production={production} wearer={production.cast[0]} />);
    expect(page.rows("nav button")).toEqual(["Ibbet0.4", "Corvane3.0", "Sella"]);
    expect(page.pressed("Ibbet")).toBe("true");
    expect(page.page.querySelector("[title^='Oilskin coat over Smock']")).toBeTruthy();
  });

  test("another wearer or pose is a press away, and sliders that were moved let go", async () => {
    room({ live: { belly: 1 } });
    const page = await opened(
      <>
        <CastAxis production={production} wearer={production.cast[0]} />
        <PoseAxis production={production} pose={production.poses[0]} />
      </>,
    );
    await page.press("Corvane");
    await page.press("Kneeling");
    expect(roomNow()).toMatchObject({ wearer: 2, live: null, pose: "kneel" });
  });

  test("a pose is pictured on the wearer in hand, in the shape it has now", async () => {
    room({ wearer: 2 });
    const page = await opened(<PoseAxis production={production} pose={production.poses[0]} />);
    const [first] = page.page.querySelectorAll("img");
    expect(first?.getAttribute("src")).toBe("/api/pictures/wearer/2.png?pose=stand&v=belly0.600");
  });
});

describe("the corner", () => {
  test("is the sheet in miniature: holds, shows, not measured", async () => {
    const page = await opened(<Corner production={production} />);
    const kinds = [...page.page.querySelectorAll("button > span > span")].map((s) =>
      s.className.includes("moss") ? "holds" : s.className.includes("coral") ? "shows" : "none",
    );
    expect(kinds).toEqual(["holds", "none", "holds", "shows", "none", "holds", "none", "none", "none"]);
    await page.press("Unfold sheet");
    expect(roomNow().sheet).toBe(true);
    expect(page.text()).toContain("Fold sheet");
  });

  test("stays a corner with a hundred poses", async () => {
    const poses = Array.from({ length: 100 }, (_, i) => ({
      ...(production.poses[0] as never as object),
      name: `p${i}`,
    })) as never;
    const page = await opened(<Corner production={aProduction({ poses })} />);
    const grid = page.page.querySelector<HTMLElement>("button > span");
    expect(grid?.style.gridTemplateColumns).toBe("repeat(20, 3px)");
    expect(grid?.children).toHaveLength(20 * aProduction().cast.length);
  });
});

describe("the top bar", () => {
  beforeEach(() => {
    localStorage.clear();
    vi.stubGlobal("matchMedia", () => ({ matches: false, addEventListener() {}, removeEventListener() {} }));
  });
  afterEach(() => vi.unstubAllGlobals());

  test("says how many cells hold, and that the sheet is older than the last change", async () => {
    const page = await opened(<TopBar production={production} />, { ...TRIAL, stale: true });
    expect(page.text()).toContain("3 of 6 hold, before the last change");
    room({ place: "stock" });
    await page.press("●3 of 6");
    expect(roomNow()).toMatchObject({ place: "fitting", sheet: true });
  });

  test("says how far a run is, and nothing where none was made", async () => {
    const running = await opened(<TopBar production={production} />, { ...TRIAL, state: "running", done: 4 });
    expect(running.text()).toContain("trial 4 / 6");
    await running.close();
    expect((await opened(<TopBar production={production} />, null)).text()).not.toContain("hold");
  });

  test("leads to every room, and to find or do", async () => {
    const page = await opened(<TopBar production={production} />);
    for (const [name, place] of [
      ["Cutting table", "table"],
      ["Stockroom", "stock"],
      ["Packing", "packing"],
      ["Fitting", "fitting"],
    ] as const) {
      await page.press(name);
      expect([roomNow().place, page.named("button", name).getAttribute("aria-current")]).toEqual([place, "page"]);
    }
    await page.press("Find or do…");
    expect(roomNow().find).toBe(true);
  });

  test("lights the lamp and puts it out", async () => {
    const page = await opened(<TopBar production={production} />);
    await page.press("Lamp light");
    expect(localStorage.getItem("theme")).toBe("lamp");
    await page.press("Day light");
    expect(page.has("button", "Lamp light")).toBe(true);
  });
});

test("among many wearers one is found by a part of their name; among few nothing is asked", async () => {
  const cast = Array.from({ length: 40 }, (_, k) => aWearer(k + 1, k === 30 ? "Old Moss" : `Hand ${k + 1}`));
  const page = await opened(<CastAxis production={aProduction({ cast })} wearer={undefined} />, null);
  await page.write("Find a wearer", "moss", null);
  expect(page.rows("nav button")).toEqual(["Old Moss"]);
  await page.press("Old Moss");
  expect(roomNow().wearer).toBe(31);
  await page.write("Find a wearer", "heron", null);
  expect(page.text()).toContain("Nobody has that in their name.");
  const few = await opened(<CastAxis production={production} wearer={undefined} />, null);
  expect(few.has("input", "Find a wearer")).toBe(false);
});
