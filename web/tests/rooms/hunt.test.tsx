// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import { settled } from "../shown";
import { room, roomNow, said } from "../world";

import { opened, through } from "./sheet";

beforeEach(() => room({ sheet: true }));

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
