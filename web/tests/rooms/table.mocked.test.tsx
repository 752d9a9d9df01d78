// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, expect, test, vi } from "vitest";
import type { Layout, Panel, Side, Spot } from "../../src/api/table";
import { shown } from "../shown";

const kept: { layout: Layout; label: string }[] = [];
const shelf = { data: [{ id: 7 }, { id: 9 }], isPending: false };
let layout: Layout;

vi.mock("../../src/api/table", () => ({
  useLayouts: () => shelf,
  useLayout: (number: number | null) => ({ data: number === null ? undefined : { number, layout } }),
  useLayoutChanges: () => ({
    change: {
      mutate: (made: { layout: Layout; label: string }) => {
        kept.push(made);
        layout = made.layout;
      },
    },
  }),
}));
const { useTable } = await import("../../src/rooms/table/useTable");
const { useRoom } = await import("../../src/store/room");

function panel(name: string, x: number): Panel {
  const corners: Spot[] = [
    [0, 0],
    [0.3, 0],
    [0.3, 0.5],
    [0, 0.5],
  ];
  const laid = { part: "torso", face: "front", raised: 0, aside: 0 } as const;
  return {
    name,
    outline: corners.map((at) => ({ at, bend: null })),
    half: "single",
    laid,
    grain: 0,
    notches: [],
    lines: [],
    spot: [x, 0],
  };
}
const side = (name: string, edge: number): Side => ({ panel: name, edge, other: false });

let table: ReturnType<typeof useTable>;
function Table() {
  table = useTable();
  return null;
}
const does = (act_: () => void) => act(async () => act_());
const names = () => layout.panels.map((p) => p.name);

beforeEach(async () => {
  kept.length = 0;
  layout = { panels: [panel("front", 0), panel("back", 0.5)], seams: [], fast: [] } as unknown as Layout;
  useRoom.setState({ saying: null });
  await shown(<Table />);
});

test("the newest layout lies open, until another is asked for that is there", async () => {
  expect(table.number).toBe(9);
  await does(() => table.open(7));
  expect(table.number).toBe(7);
  await does(() => table.open(8));
  expect(table.number).toBe(9);
});

test("another layout on the table has nothing chosen and nothing begun", async () => {
  await does(() => table.setChosen({ panel: "front", edge: 1, corner: null }));
  await does(() => table.sew(side("front", 1)));
  await does(() => table.sketchTo("front", [0.1, 0.1]));
  await does(() => table.open(7));
  expect([table.chosen, table.first, table.sketch]).toEqual([null, null, null]);
});

test("a new panel takes a name that is free and lies to the right of the others", async () => {
  layout.panels.push(panel("panel 4", 1));
  await does(() => table.addPanel());
  expect(names()).toEqual(["front", "back", "panel 4", "panel 5"]);
  const made = layout.panels[3] as Panel;
  expect(made.spot[0]).toBeGreaterThan(1.3);
  expect(table.chosen?.panel).toBe("panel 5");
});

test("a panel that is taken away takes its seams along, and no others", async () => {
  layout.panels.push(panel("sleeve", 1));
  layout.seams = [
    { one: side("front", 1), two: side("back", 3), turned: true },
    { one: side("front", 0), two: side("sleeve", 0), turned: false },
    { one: side("sleeve", 1), two: side("sleeve", 3), turned: true },
  ];
  layout.fast = [side("sleeve", 2), side("back", 2)] as never;
  await does(() => table.dropPanel("sleeve"));
  expect(names()).toEqual(["front", "back"]);
  expect(layout.seams).toEqual([{ one: side("front", 1), two: side("back", 3), turned: true }]);
  expect(layout.fast).toEqual([side("back", 2)]);
});

test("two edges are sewn by choosing one and then the other, the way they run", async () => {
  await does(() => table.sew(side("front", 1)));
  expect(kept).toEqual([]);
  await does(() => table.sew(side("back", 3)));
  expect(layout.seams).toEqual([{ one: side("front", 1), two: side("back", 3), turned: true }]); // one runs up, the other down
  await does(() => table.sew(side("front", 0)));
  await does(() => table.sew(side("back", 0)));
  expect(layout.seams[1]?.turned).toBe(false);
});

test("an edge is not sewn to itself, and no two edges twice", async () => {
  await does(() => table.sew(side("front", 1)));
  await does(() => table.sew(side("front", 1)));
  expect([kept.length, table.first]).toEqual([0, null]);
  for (let k = 0; k < 2; k++) {
    await does(() => table.sew(side("front", 1)));
    await does(() => table.sew(side("back", 3)));
  }
  expect(layout.seams).toHaveLength(1);
  expect(useRoom.getState().saying?.kind).toBe("problem");
});

test("an inner line is drawn point by point on one panel, without points on top of each other", async () => {
  await does(() => table.sketchTo("front", [0.1, 0.1]));
  await does(() => table.sketchTo("front", [0.1, 0.101]));
  await does(() => table.sketchTo("front", [0.2, 0.3]));
  expect(table.sketch?.points).toHaveLength(2);
  await does(() => table.endSketch());
  expect(layout.panels[0]?.lines).toEqual([
    [
      [0.1, 0.1],
      [0.2, 0.3],
    ],
  ]);
  expect(table.chosen).toMatchObject({ panel: "front", line: 0 });
  await does(() => table.dropLine("front", 0));
  expect(layout.panels[0]?.lines).toEqual([]);
});

test("one point makes no line, and a line that goes over to another panel begins there anew", async () => {
  await does(() => table.sketchTo("front", [0.1, 0.1]));
  await does(() => table.endSketch());
  expect(kept).toEqual([]);
  await does(() => table.sketchTo("front", [0.1, 0.1]));
  await does(() => table.sketchTo("back", [0.2, 0.2]));
  expect(table.sketch).toEqual({ panel: "back", points: [[0.2, 0.2]] });
});

test("another tool lays down what was begun", async () => {
  await does(() => table.sew(side("front", 1)));
  await does(() => table.sketchTo("front", [0.1, 0.1]));
  await does(() => table.setTool("line"));
  expect([table.first, table.sketch, table.tool]).toEqual([null, null, "line"]);
});
