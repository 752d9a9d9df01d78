// @vitest-environment jsdom
import { act } from "react";
import { afterEach, beforeAll, beforeEach, expect, test, vi } from "vitest";
import type { Laid, Layout, Panel } from "../../src/api/table";
import { usePanelDrag } from "../../src/rooms/table/panels/usePanelDrag";
import { shown } from "../shown";

const corners = [
  [0, 0],
  [0.2, 0],
  [0.2, 0.3],
  [0, 0.3],
] as [number, number][];
const front = {
  name: "front",
  outline: corners.map((at) => ({ at, bend: null })),
  half: "fold",
  spot: [1, 0],
  lines: [[[0.05, 0.1]]],
} as unknown as Panel;
const back = { ...front, name: "back", half: "single", spot: [2, 0] } as Panel;
const laid = { layout: { panels: [front, back], seams: [] } } as unknown as Laid;

let drag: ReturnType<typeof usePanelDrag>;
const kept: [Layout, string][] = [];
function Table() {
  drag = usePanelDrag(laid, (layout, label) => kept.push([layout, label]));
  return <svg ref={drag.svg} />;
}

beforeAll(() => {
  // a page without layout: a pixel of the screen is a millimetre of the table
  vi.stubGlobal(
    "DOMPoint",
    class {
      constructor(
        readonly x: number,
        readonly y: number,
      ) {}
      matrixTransform() {
        return this;
      }
    },
  );
  Object.assign(SVGElement.prototype, {
    getScreenCTM: () => ({ inverse: () => ({}) }),
    setPointerCapture: () => undefined,
  });
});

let page: Awaited<ReturnType<typeof shown>>;
beforeEach(async () => {
  kept.length = 0;
  page = await shown(<Table />);
});
afterEach(() => page.close());

const pointer = (clientX: number, clientY: number, more: object = {}) =>
  ({ clientX, clientY, button: 0, pointerId: 1, stopPropagation: () => undefined, ...more }) as React.PointerEvent;
async function drop(what: Parameters<typeof drag.begin>[1], ...way: [number, number, object?][]) {
  await act(async () => drag.begin(pointer(0, 0), what));
  for (const [x, y, more] of way) await act(async () => drag.move(pointer(x, y, more)));
  await act(async () => drag.finish());
}
const corner = (panel: string, at: number) => ({ kind: "corner", panel, at }) as const;
const at = (k: number, name = "back") => kept[0]?.[0].panels.find((p) => p.name === name)?.outline[k]?.at;

test("a corner goes where it is let go, on its own panel alone, and is kept once", async () => {
  await drop(corner("back", 2), [2300, -100], [2250, -350]); // 25 cm across and 35 up, from where the panel lies
  expect(kept).toHaveLength(1);
  expect(at(2)).toEqual([0.25, 0.35]);
  expect(kept[0]?.[0].panels[0]).toBe(front);
});

test("with Shift it goes by half centimetres", async () => {
  await drop(corner("back", 1), [2213, -4, { shiftKey: true }]);
  expect(at(1)).toEqual([0.215, 0.005]);
});

test("what lies on the fold stays on it, and nothing crosses it", async () => {
  await drop(corner("front", 3), [1080, -320]);
  expect(at(3, "front")).toEqual([0, 0.32]);
  kept.length = 0;
  await drop(corner("front", 2), [900, -300]);
  expect(at(2, "front")).toEqual([0, 0.3]);
});

test("a whole panel moves by as much as the pointer", async () => {
  await drop({ kind: "panel", panel: "back", from: [2000, 0], spot: [2, 0] }, [2120, -50]);
  expect(kept[0]?.[0].panels[1]?.spot).toEqual([2.12, 0.05]);
  expect(kept[0]?.[0].panels[1]?.outline).toEqual(back.outline);
});

test("a point of an inner line moves, its panel's outline stays", async () => {
  await drop({ kind: "point", panel: "back", line: 0, at: 0 }, [2100, -150]);
  expect(kept[0]?.[0].panels[1]?.lines).toEqual([[[0.1, 0.15]]]);
});

test("a press without a way, another button, or a drag of the view changes no layout", async () => {
  await drop(corner("back", 2));
  await act(async () => drag.begin(pointer(0, 0, { button: 2 }), corner("back", 2)));
  await act(async () => drag.move(pointer(2250, -350)));
  await act(async () => drag.finish());
  const before = drag.box;
  await drop({ kind: "view", x: 0, y: 0, view: before }, [10, 20]);
  expect(kept).toEqual([]);
  expect(drag.box[0]).toBeLessThan(before[0]); // the table went along with the hand
  expect(drag.box.slice(2)).toEqual(before.slice(2));
});

test("the wheel brings nearer what is under the pointer, which stays there", async () => {
  const [x, y, w, h] = drag.box;
  await act(async () => drag.zoom({ clientX: 1100, clientY: -100, deltaY: -300 } as React.WheelEvent));
  const [x2, y2, w2, h2] = drag.box;
  expect(w2).toBeLessThan(w);
  expect((1100 - x2) / w2).toBeCloseTo((1100 - x) / w, 9);
  expect((-100 - y2) / h2).toBeCloseTo((-100 - y) / h, 9);
});
