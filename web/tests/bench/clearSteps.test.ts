import { describe, expect, it } from "vitest";
import type { Piece, Production } from "../../src/api/client";
import { around, bare, everyCell } from "../../src/bench/steps/clear/clearSteps";

const piece = (id: number, rail: number, more: object = {}) =>
  ({ id, rail, geometry: `g${id}`, finished: null, recipe: {}, ...more }) as unknown as Piece;

describe("what lies under and over a piece", () => {
  const [shirt, coat, cape] = [piece(7, 1), piece(3, 2), piece(5, 3)];

  it("is told from the innermost out, whatever order the rail comes in", () => {
    for (const rail of [
      [shirt, coat, cape],
      [cape, shirt, coat],
    ])
      expect(around(rail, coat)).toEqual({ over: ["g7"], outer: ["g5"] });
    expect(around([cape, coat, shirt], cape)).toEqual({ over: ["g7", "g3"], outer: [] });
  });

  it("is what is worn: the finished cloth, and no piece that is not there yet", () => {
    const lined = piece(7, 1, { finished: "f7" });
    const waiting = piece(9, 4, { geometry: null });
    expect(around([lined, coat, waiting], coat)).toEqual({ over: ["f7"], outer: [] });
  });
});

describe("every cell a piece can be worn in", () => {
  const production = {
    cast: [
      { id: 1, body: null, shape: { stature: 0.2 } },
      { id: 2, body: "own", shape: {} },
      { id: 3, body: "", shape: { stature: -0.2 } },
    ],
    poses: [
      { name: "stand", rotations: {} },
      { name: "kneel", rotations: { l_knee: [0, 0, 0, 1] } },
    ],
  } as unknown as Production;

  it("is each pose on each wearer of its body", () => {
    const cells = everyCell(production, piece(1, 1));
    expect(cells).toHaveLength(4);
    expect(new Set(cells.map((c) => `${c.shape?.stature} ${c.pose}`))).toEqual(
      new Set(["0.2 stand", "0.2 kneel", "-0.2 stand", "-0.2 kneel"]),
    );
    expect(everyCell(production, piece(1, 1, { recipe: { body: "own" } }))).toHaveLength(2);
  });

  it("does not say the body again, which the recipe knows", () => {
    for (const cell of everyCell(production, piece(1, 1))) expect(cell).not.toHaveProperty("body");
    expect(bare({ body: "own", shape: {}, pose: "stand" })).toEqual({ shape: {}, pose: "stand" });
  });
});
