import { describe, expect, it } from "vitest";
import type { Production } from "../../src/api/client";
import type { DrapeStep, Fabric } from "../../src/api/drape";
import { drapeStep, type Fall, FROM, settingsOf } from "../../src/bench/steps/drape/drapeSettings";
import { fresh, type StepOf } from "../../src/recipe/recipe";

const production = {
  cast: [
    { id: 1, shape: { stature: 0.4 } },
    { id: 2, shape: { stature: -0.3 } },
  ],
} as unknown as Production;
const linen = { name: "linen" } as unknown as Fabric;
const fall: Fall = {
  where: "pose",
  motion: "",
  cell: { shape: { stature: 0.4 }, pose: "kneel" },
  madeOn: { stature: 0 },
  along: [],
  over: ["under-it"],
};
const usual = settingsOf(undefined);
const step = (settings: object = {}, how: Partial<Fall> = {}) =>
  drapeStep(linen, { ...usual, ...settings }, { ...fall, ...how }, production);

describe("how a piece falls", () => {
  it("is the same step again from the settings that it left", () => {
    const held = {
      tacks: [{ at: 3, along: [4], radius: 0.05, value: 1, to: "wearer" }],
      gathers: [{ at: 9, width: 0.04, factor: 0.75, string: true }],
      straps: [{ one: 1, other: 2, length: 0.12 }],
      stiff: [{ at: 5, along: [], radius: 0.08, times: 6 }],
    } as unknown as Partial<DrapeStep>;
    const made = { ...step({ pressure: 2.5, held: 7, substeps: 40, finer: false, past: true }), ...held };
    const again = step(settingsOf(made as StepOf<"drape">));
    expect(again).toEqual(made);
  });

  it("starts with what the server takes where nothing is said", () => {
    const { held, substeps, pressure, past } = usual;
    const server = fresh("drape") as StepOf<"drape">;
    expect([held / 100, substeps, pressure, past]).toEqual([
      server.held,
      server.substeps,
      server.pressure,
      server.past_hidden,
    ]);
  });

  it.each(FROM.map(([name], k) => [name, k] as const))(
    "feels the wind from %s at the speed that was set",
    (_, from) => {
      const { wind, gust } = step({ wind: 6, from, gust: 0.5 });
      expect(Math.hypot(...(wind as number[]))).toBeCloseTo(6);
      expect(gust).toBe(0.5);
    },
  );

  it("feels no gusts where there is no wind", () => {
    expect(step({ wind: 0, gust: 0.5 }).gust).toBe(0);
  });

  it("blows from opposite sides in opposite ways", () => {
    const way = (from: number) => step({ wind: 1, from }).wind as number[];
    expect(way(0).map((x, k) => x + (way(1)[k] ?? 9))).toEqual([0, 0, 0]);
    expect(way(2).map((x, k) => x + (way(3)[k] ?? 9))).toEqual([0, 0, 0]);
  });

  it("falls at rest on the shape that the piece was made on, and is kept for good", () => {
    const { cell, keep } = step({}, { where: "rest" });
    expect(cell).toEqual({ shape: { stature: 0 }, pose: "rest" });
    expect(keep).toBe("rest");
  });

  it("goes through a motion from rest, on its wearer", () => {
    const { cell, motion, keep } = step({}, { where: "row", motion: "row" });
    expect(cell).toEqual({ shape: { stature: 0.4 }, pose: "rest" });
    expect([motion, keep]).toEqual(["row", "pose"]);
  });

  it("is cut to another of the cast, if asked", () => {
    expect(step({ cut: 2 }).start).toEqual({ stature: -0.3 });
    expect(step({ cut: 0 }).start).toBeNull();
  });
});
