// @vitest-environment jsdom
import { beforeEach, describe, expect, test, vi } from "vitest";
import type { Fabric } from "../../../src/api/drape";
import { fresh } from "../../../src/recipe/recipe";
import { settled } from "../../shown";
import { received, room, roomNow, said } from "../../world";

import { BOUND, FABRICS, opened } from "./draping";

beforeEach(() => room());

describe("what has been played", () => {
  test("says its frame, strain, how low it hangs, and a stiffness that was not reached", async () => {
    const { page } = await opened({ told: {} });
    for (const words of [
      "Frame 12 of 72",
      "0.50 s",
      "1.2 %",
      "5.1 %",
      "1.2 cm lower than worn",
      "61 ms a frame",
      "70 %",
    ])
      expect(page.text()).toContain(words);
  });

  test("is scrubbed, shown as strain, and kept by its frame and name", async () => {
    const { page, falling } = await opened({ told: {} });
    await page.slide("Frame 12", 1);
    expect(falling.show).toHaveBeenLastCalledWith(12);
    await page.choose("Shows", "strain");
    expect(roomNow().fallen).toBe("strain");
    expect(falling.show).toHaveBeenLastCalledWith(11); // drawn anew
    await page.press("Keep this frame");
    expect(falling.keep).toHaveBeenCalledWith(11, expect.stringContaining("linen"));
    await page.press("Keep all");
    expect(falling.keepAll).toHaveBeenCalledWith("linen, standing");
  });

  test("is not kept while the wearer still moves, while it plays, or when it is a kept one", async () => {
    for (const [told, falling] of [
      [{ there: false }, {}],
      [{}, { playing: true }],
      [{}, { fromKept: true }],
      [{}, { replaying: true }],
    ] as const) {
      const { page } = await opened({ told, falling });
      expect(page.disabled("Keep this frame")).toBe(true);
      await page.close();
    }
  });

  test("goes on, plays again from the start, and is put back", async () => {
    const { page, falling } = await opened({ told: {} });
    await page.press("Go on");
    await page.press("From the start");
    await page.press("Replay");
    await page.press("Put it back");
    for (const did of [falling.goOn, falling.play, falling.replay, falling.leave]) expect(did).toHaveBeenCalledOnce();
  });

  test("all frames played, one more can be asked for", async () => {
    const { page } = await opened({ told: { have: 72 } });
    expect(page.has("button", "A frame more")).toBe(true);
  });
});

describe("kept falls", () => {
  const FALL = { id: 5, label: "oilskin, rowing", frames: 76, bytes: 2_400_000, stale: true, made_at: "" };

  test("say how long and large they are, and are seen again", async () => {
    const { page, falling } = await opened({ answers: { "GET /api/pieces/7/falls": [FALL] } });
    expect(page.text()).toContain("3.2 s, 2.4 MB");
    await page.press("oilskin, rowing");
    expect(falling.see).toHaveBeenCalledWith(5);
  });

  test("one that cannot be read is told", async () => {
    const see = vi.fn(() => Promise.reject(new Error("it was made by another version")));
    const { page } = await opened({ falling: { see }, answers: { "GET /api/pieces/7/falls": [FALL] } });
    await page.press("oilskin, rowing");
    await settled();
    expect(said()).toEqual({ kind: "problem", text: "it was made by another version" });
  });

  test("are dropped one by one, and the list is asked for anew", async () => {
    const { page, server } = await opened({
      answers: { "GET /api/pieces/7/falls": [FALL], "DELETE /api/falls/5": undefined },
    });
    await page.press("Drop oilskin, rowing");
    await settled();
    expect(server.sent("DELETE /api/falls/5")).toHaveLength(1);
    expect(server.sent("GET /api/pieces/7/falls")).toHaveLength(2);
  });
});

describe("baking several poses", () => {
  test("takes the poses that are ticked and not kept yet; rest is none", async () => {
    const kept = {
      ...fresh("drape"),
      fabric: FABRICS[0] as Fabric,
      cell: { shape: {}, pose: "kneel" },
      keep: "pose" as const,
    };
    const bake = { id: 1, state: "running", poses: ["Standing"], done: 0, frame: 0, frames: 72, strain: [], why: "" };
    const { page, server } = await opened({
      piece: { steps: [...BOUND, kept], report: { receive: received({ vertices: 50_000 }) } },
      answers: { "POST /api/pieces/7/bake": bake },
    });
    expect(page.text()).toContain("Kneeling, kept");
    expect(page.text()).toContain("72 frames");
    expect(page.text()).toContain("0.6 MB");
    await page.press("Bake");
    await settled();
    expect(server.sent("POST /api/pieces/7/bake")).toMatchObject([
      { poses: ["stand"], step: { keep: "pose", motion: "" } },
    ]);
    expect(page.text()).toContain("standing, 1 of 1");
  });

  test("with nothing ticked there is nothing to bake", async () => {
    const { page } = await opened();
    await page.tick("Standing");
    await page.tick("Kneeling");
    expect(page.disabled("Bake")).toBe(true);
  });

  test("one under way says where it is and can be stopped; the last one is told", async () => {
    const running = {
      id: 1,
      state: "running",
      poses: ["Standing", "Kneeling"],
      done: 1,
      frame: 36,
      frames: 72,
      strain: [0.01],
      why: "",
    };
    const stopped = { ...running, state: "cancelled" };
    const { page } = await opened({
      answers: { "GET /api/pieces/7/bake": running, "POST /api/pieces/7/bake/stop": stopped },
    });
    expect(page.text()).toContain("kneeling, 2 of 2");
    expect(page.page.querySelector<HTMLElement>(".h-1.bg-heron")?.style.width).toBe("75%");
    await page.press("Stop");
    await settled();
    expect(page.text()).toContain("1 of 2");
  });
});
