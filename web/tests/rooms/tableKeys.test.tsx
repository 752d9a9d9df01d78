// @vitest-environment jsdom
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Table } from "../../src/rooms/table/useTable";
import { useTableKeys } from "../../src/rooms/table/useTableKeys";
import { shown } from "../shown";

const did: [string, unknown][] = [];
const note = (name: string) => (value: unknown) => did.push([name, value]);
const laid = { can_undo: true, redo_label: null };

/** A table on which nothing is chosen, but for what a test says. */
function table(more: object = {}): Table {
  return {
    laid,
    chosen: null,
    sketch: null,
    step: { mutate: note("step") },
    work: { mutate: note("work") },
    setFirst: note("first"),
    setSketch: note("sketch"),
    setChosen: note("chosen"),
    endSketch: () => did.push(["end", null]),
    dropLine: (panel: string, line: number) => did.push(["drop line", [panel, line]]),
    ...more,
  } as unknown as Table;
}

function Keys({ more }: { more: object }) {
  useTableKeys(table(more));
  return <input aria-label="Name" />;
}

let page: Awaited<ReturnType<typeof shown>> | null = null;
async function at(more: object = {}) {
  page = await shown(<Keys more={more} />);
}
async function press(key: string, more: KeyboardEventInit = {}, on: EventTarget = window): Promise<boolean> {
  const event = new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, ...more });
  await act(async () => {
    on.dispatchEvent(event);
  });
  return event.defaultPrevented;
}

beforeEach(() => {
  did.length = 0;
});
afterEach(async () => {
  await page?.close();
  vi.restoreAllMocks();
});

test("a change is taken back, and done again only where there is one", async () => {
  await at();
  expect(await press("z", { ctrlKey: true })).toBe(true); // the browser's own undo does not run as well
  expect(did).toEqual([["step", { laid, back: true }]]);
  await press("y", { ctrlKey: true });
  await press("z", { ctrlKey: true, shiftKey: true });
  expect(did).toHaveLength(1);
});

test("a line that is drawn is ended, shortened point by point, and let go with its last", async () => {
  const points = [
    [0, 0],
    [0.1, 0],
  ];
  await at({ sketch: { panel: "front", points } });
  await press("Enter");
  await press("Backspace");
  expect(did).toEqual([
    ["end", null],
    ["sketch", { panel: "front", points: [[0, 0]] }],
  ]);
  await page?.close();
  did.length = 0;
  await at({ sketch: { panel: "front", points: [[0, 0]] } });
  await press("Backspace");
  expect(did).toEqual([["sketch", null]]);
});

test("Delete takes out the chosen line, else joins the panel over the chosen corner, else does nothing", async () => {
  await at({ chosen: { panel: "front", edge: null, corner: 2, line: 1 } });
  await press("Delete");
  expect(did).toEqual([["drop line", ["front", 1]]]);
  await page?.close();
  did.length = 0;
  await at({ chosen: { panel: "front", edge: null, corner: 2 } });
  await press("Delete");
  expect(did[0]).toMatchObject(["work", { do: "join", panel: "front", edge: 2 }]);
  expect(did[1]).toEqual(["chosen", null]);
  await page?.close();
  did.length = 0;
  await at({ chosen: { panel: "front", edge: 1, corner: null } });
  await press("Delete");
  expect(did).toEqual([]);
});

test("Escape lets go of all that is begun", async () => {
  await at({ chosen: { panel: "front", edge: 0, corner: null } });
  await press("Escape");
  expect(did).toEqual([
    ["first", null],
    ["sketch", null],
    ["chosen", null],
  ]);
});

test("keys that are typed into a name change nothing on the table", async () => {
  await at({ chosen: { panel: "front", edge: null, corner: 2 } });
  const field = document.querySelector("input") as HTMLInputElement;
  for (const key of ["Delete", "Backspace", "Escape", "Enter"]) await press(key, {}, field);
  await press("z", { ctrlKey: true }, field);
  expect(did).toEqual([]);
});
