// @vitest-environment jsdom
import { expect, test } from "vitest";
import type { Laid, Layout, Panel } from "../../src/api/table";
import { PanelFacts } from "../../src/rooms/table/PanelFacts";
import type { Chosen, Table } from "../../src/rooms/table/useTable";
import { shown } from "../shown";

const panel = {
  name: "front",
  half: "single",
  outline: [
    { at: [0, 0], bend: null },
    { at: [0.3, 0], bend: null },
    { at: [0.3, 0.6], bend: null },
    { at: [0, 0.6], bend: null },
  ],
  laid: { part: "torso", face: "front", raised: 0, aside: 0 },
  grain: 0,
  notches: [],
  lines: [
    [
      [0.1, 0.1],
      [0.1, 0.25],
    ],
  ],
  spot: [0, 0],
} as unknown as Panel;
const laid = {
  layout: { panels: [panel, { ...panel, name: "back" }], seams: [], fast: [] },
  edges: { front: [0.3, 0.6, 0.3, 0.6] },
} as unknown as Laid;

/** The panel's facts with something of it chosen, and what they ask the table for. */
async function facts(chosen: Omit<NonNullable<Chosen>, "panel">) {
  const kept: { layout: Layout; label: string }[] = [];
  const worked: Record<string, unknown>[] = [];
  const table = {
    chosen: { panel: "front", ...chosen },
    keep: (layout: Layout, label: string) => kept.push({ layout, label }),
    work: { mutate: (asked: Record<string, unknown>) => worked.push(asked) },
    setChosen: () => undefined,
    dropPanel: () => undefined,
    dropLine: () => undefined,
  } as unknown as Table;
  const page = await shown(<PanelFacts table={table} laid={laid} panel={panel} />);
  return { ...page, kept, worked };
}

test("a panel that is cut otherwise changes itself alone, and says so for undo", async () => {
  const page = await facts({ edge: null, corner: null });
  await page.choose("Cut", "fold");
  const [{ layout, label } = { layout: laid.layout, label: "" }] = page.kept;
  expect(layout.panels.map((p) => p.half)).toEqual(["fold", "single"]);
  expect(label).toBe("Cut front anew");
  expect(page.text()).not.toContain("Edge");
  await page.close();
});

test("an edge says how long it is, is curved by its thirds and straightened again", async () => {
  const page = await facts({ edge: 1, corner: null });
  expect(page.text()).toContain("Edge 2: 60.0 cm");
  await page.press("Curve");
  const bend = page.kept[0]?.layout.panels[0]?.outline[1]?.bend;
  const [one, two] = bend ?? [];
  expect(one?.map((x) => Math.round(1e6 * x) / 1e6)).toEqual([0.3, 0.2]); // on the line: it looks as before until it is pulled
  expect(two?.map((x) => Math.round(1e6 * x) / 1e6)).toEqual([0.3, 0.4]);
  await page.close();
});

test("a dart and a pleat are asked for in metres, in the middle of the edge", async () => {
  const page = await facts({ edge: 0, corner: null });
  await page.press("Dart");
  await page.press("Pleat");
  expect(page.worked).toEqual([
    { laid, do: "dart", panel: "front", edge: 0, share: 0.5, wide: 0.03, deep: 0.1 },
    { laid, do: "pleat", panel: "front", edge: 0, share: 0.5, wide: 0.03, deep: 0.03 },
  ]);
  await page.close();
});

test("a notch and a hold are of the chosen edge", async () => {
  const page = await facts({ edge: 2, corner: null });
  await page.press("Notch");
  await page.press("Hold fast");
  expect(page.kept[0]?.layout.panels[0]?.notches).toEqual([[2, 0.5]]);
  expect(page.kept[1]?.layout.fast).toEqual([{ panel: "front", edge: 2, other: false }]);
  await page.close();
});

test("a corner that is taken out joins its edges; a line says how long it is", async () => {
  const page = await facts({ edge: null, corner: 2 });
  await page.press("Take out");
  expect(page.worked[0]).toMatchObject({ do: "join", panel: "front", edge: 2 });
  await page.close();
  const line = await facts({ edge: null, corner: null, line: 0 });
  expect(line.text()).toContain("Line 1: 15.0 cm");
  await line.close();
});
