import { CubicBezierCurve, Vector2 } from "three";
import { describe, expect, it } from "vitest";
import type { Corner, Panel, Spot } from "../../src/api/table";
import { item } from "../../src/recipe/at";
import { moved } from "../../src/rooms/table/panels/movedCorner";
import type { Drag } from "../../src/rooms/table/useTable";

/** A panel whose first and last edges are curves that meet in corner 0. */
const panel = {
  name: "Front",
  outline: [
    {
      at: [0, 0],
      bend: [
        [0.05, 0.02],
        [0.1, 0.02],
      ],
    },
    { at: [0.2, 0], bend: null },
    {
      at: [0.1, 0.3],
      bend: [
        [0.06, 0.2],
        [-0.02, 0.1],
      ],
    },
  ],
} as unknown as Panel;

const dragged = (drag: Drag, to: Spot) => panel.outline.map((c, i) => moved(c, i, drag, to, panel));

/** The curve of an edge as three.js draws it. */
function curve(outline: Corner[], edge: number): CubicBezierCurve {
  const [a, b] = [item(outline, edge), item(outline, (edge + 1) % outline.length)];
  const points = [a.at, ...(a.bend ?? [a.at, b.at]), b.at].map((p) => new Vector2(item(p, 0), item(p, 1)));
  return new CubicBezierCurve(...(points as [Vector2, Vector2, Vector2, Vector2]));
}

describe("a corner that is dragged", () => {
  const drag: Drag = { kind: "corner", panel: "Front", at: 0 };
  const to: Spot = [-0.03, 0.04];
  const outline = dragged(drag, to);

  it("lies where it was let go, and no other corner moves", () => {
    expect(outline.map((c) => c.at)).toEqual([to, [0.2, 0], [0.1, 0.3]]);
  });

  it("takes both curves that meet there along: they leave it as they did", () => {
    for (const [edge, t] of [
      [0, 0],
      [2, 1],
    ] as const) {
      const [was, now] = [curve(panel.outline, edge).getTangent(t), curve(outline, edge).getTangent(t)];
      expect(now.angleTo(was)).toBeCloseTo(0, 3); // three.js takes tangents by differences
    }
  });

  it("leaves the far ends of these curves as they were", () => {
    expect(item(outline, 0).bend?.[1]).toEqual([0.1, 0.02]);
    expect(item(outline, 2).bend?.[0]).toEqual([0.06, 0.2]);
  });

  it("goes back to the same outline when it is dragged back", () => {
    const back = outline.map((c, i) => moved(c, i, drag, [0, 0], { ...panel, outline }));
    back.forEach((c, i) => {
      const was = item(panel.outline, i);
      for (const [a, b] of [[c.at, was.at], ...(c.bend ?? []).map((p, k) => [p, item(was.bend ?? [], k)])] as Spot[][])
        a?.forEach((x, axis) => {
          expect(x).toBeCloseTo(item(b ?? [], axis), 12);
        });
    });
  });

  it("between two straight edges moves alone", () => {
    const straight = { ...panel, outline: panel.outline.map((c) => ({ at: c.at, bend: null })) } as Panel;
    const after = straight.outline.map((c, i) => moved(c, i, { kind: "corner", panel: "Front", at: 1 }, to, straight));
    expect(after.map((c) => c.bend)).toEqual([null, null, null]);
    expect(item(after, 1).at).toEqual(to);
  });
});

describe("an end of a curve that is dragged", () => {
  it.each([
    ["bend0", 0],
    ["bend1", 1],
  ] as const)("moves alone: %s", (kind, which) => {
    const outline = dragged({ kind, panel: "Front", at: 2 }, [0.5, 0.5]);
    const bend = item(outline, 2).bend;
    expect(bend?.[which]).toEqual([0.5, 0.5]);
    expect(bend?.[1 - which]).toEqual(item(panel.outline, 2).bend?.[1 - which]);
    expect(outline.slice(0, 2)).toEqual(panel.outline.slice(0, 2));
  });

  it("is nothing on a straight edge", () => {
    expect(dragged({ kind: "bend0", panel: "Front", at: 1 }, [1, 1])).toEqual(panel.outline);
  });
});

it.each([
  { kind: "view", x: 0, y: 0, view: [0, 0, 1, 1] },
  { kind: "panel", panel: "Front", from: [0, 0], spot: [0, 0] },
  { kind: "point", panel: "Front", line: 0, at: 0 },
] as Drag[])("the outline keeps its form while the $kind is dragged", (drag) => {
  expect(dragged(drag, [1, 1])).toEqual(panel.outline);
});
