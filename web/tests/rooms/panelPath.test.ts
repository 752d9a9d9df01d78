import { describe, expect, it } from "vitest";
import type { Panel } from "../../src/api/table";
import {
  along,
  boxOf,
  edgePath,
  lengthOf,
  onFold,
  onTable,
  outlinePath,
  runsBack,
  shareAt,
} from "../../src/rooms/table/panels/panelPath";

const ROUND = 0.5522847498; // handles of a quarter circle
const square = (more: object = {}) =>
  ({
    name: "Front",
    spot: [0, 0],
    half: "none",
    outline: [
      [0, 0],
      [0.2, 0],
      [0.2, 0.1],
      [0, 0.1],
    ].map((at) => ({ at })),
    lines: [],
    ...more,
  }) as unknown as Panel;
const quarter = {
  ...square(),
  outline: [
    {
      at: [0.1, 0],
      bend: [
        [0.1, 0.1 * ROUND],
        [0.1 * ROUND, 0.1],
      ],
    },
    { at: [0, 0.1] },
    { at: [0, 0] },
  ],
} as unknown as Panel;

describe("the outline of a panel", () => {
  it("runs along a quarter circle to within three hundredths of a percent", () => {
    for (let t = 0; t <= 1; t += 0.05)
      expect(Math.abs(Math.hypot(...along(quarter, 0, t)) / 0.1 - 1)).toBeLessThan(3e-4);
    const points = Array.from({ length: 201 }, (_, k) => along(quarter, 0, k / 200));
    expect(lengthOf(points) / ((Math.PI / 2) * 0.1)).toBeCloseTo(1, 3);
  });

  it("finds the share of an edge nearest to a point, and keeps off its ends", () => {
    expect(shareAt(quarter, 0, [0.08, 0.08])).toBeCloseTo(0.5, 2);
    expect(shareAt(square(), 0, [0.05, -0.4])).toBeCloseTo(0.25, 2);
    expect(shareAt(square(), 0, [-1, 0])).toBe(0.03);
    expect(shareAt(square(), 0, [1, 0])).toBe(0.97);
  });

  it("is drawn in millimetres, y down, mirrored on the fold", () => {
    const panel = square({ spot: [0.1, 0.05], half: "fold" });
    expect(onTable(panel, [0.2, 0.1])).toEqual([300.00000000000006, -150.00000000000003]);
    expect(onTable(panel, [0.2, 0], true)[0]).toBeCloseTo(-100);
    expect(edgePath(square(), 1)).toBe("M200,0L200,-100");
    expect(outlinePath(square()).match(/[ML]/g)).toEqual(["M", "L", "L", "L", "L"]);
    expect(outlinePath(square()).endsWith("Z")).toBe(true);
  });

  it("has a fold only where a straight edge lies on it", () => {
    const panel = square({ half: "fold" });
    expect([0, 1, 2, 3].map((e) => onFold(panel, e))).toEqual([false, false, false, true]);
    expect(onFold(square(), 3)).toBe(false);
  });

  it("is held by the box about all panels, both halves of a folded one", () => {
    const [x, y, wide, high] = boxOf([square({ half: "fold" })]);
    expect([x, y, wide, high].map(Math.round)).toEqual([-260, -160, 520, 220]);
    expect(boxOf([])).toEqual([-500, -500, 1000, 1000]);
  });

  it("tells edges that meet start to end from those that run side by side", () => {
    const one = square();
    const side = (edge: number, other = false) => ({ panel: "Front", edge, other });
    expect(runsBack(one, side(1), one, side(3))).toBe(true);
    expect(runsBack(one, side(1), one, side(1, true))).toBe(false);
    expect(runsBack(one, side(0), one, side(0, true))).toBe(true);
  });
});
