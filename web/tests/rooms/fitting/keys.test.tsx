// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api, type Production } from "../../../src/api/client";
import type { Fitting } from "../../../src/bench/useFitting";
import { useKeys } from "../../../src/rooms/fitting/useKeys";
import { useRoom } from "../../../src/store/room";
import { turnSingleKeys } from "../../../src/store/singleKeys";
import { shown } from "../../shown";

const cast = [
  { id: 1, name: "Ibbet", can_undo: true, can_redo: false },
  { id: 2, name: "Corvane", can_undo: false, can_redo: false },
  { id: 3, name: "Wrenna", can_undo: false, can_redo: false },
];
const poses = ["stand", "stride", "sit"].map((name) => ({ name, label: name, family: "house", rotations: {} }));
const production = { cast, poses, pieces: [] } as unknown as Production;
const piece = { id: 7, undo_label: "Fit", redo_label: null, report: {} };

const calls: string[] = [];
const press = (key: string, more: KeyboardEventInit = {}, on: EventTarget = window) =>
  act(async () => {
    on.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, ...more }));
  });
const release = (key: string) =>
  act(async () => {
    window.dispatchEvent(new KeyboardEvent("keyup", { key }));
  });

function Room() {
  const { wearer, pose } = useRoom();
  const chosen = poses.find((p) => p.name === pose) ?? poses[0];
  useKeys(production, { wearer: cast.find((w) => w.id === wearer) ?? cast[0], chosen, piece } as unknown as Fitting);
  return (
    <label>
      Name
      <input />
    </label>
  );
}

let page: Awaited<ReturnType<typeof shown>>;
beforeEach(async () => {
  calls.length = 0;
  vi.spyOn(api, "POST").mockImplementation((async (path: string, { params }: { params: { path: object } }) => {
    calls.push(`${path} ${JSON.stringify(params.path)}`);
    return { data: {} };
  }) as never);
  useRoom.setState({
    wearer: 1,
    pose: "stand",
    panel: null,
    posing: null,
    glance: null,
    find: false,
    sheet: false,
    yaw: 0,
  });
  page = await shown(
    <QueryClientProvider client={new QueryClient()}>
      <Room />
    </QueryClientProvider>,
  );
});
afterEach(async () => {
  await page.close();
  vi.restoreAllMocks();
});

test("arrows walk the sheet and come round at its ends", async () => {
  await press("ArrowDown");
  expect(useRoom.getState().wearer).toBe(2);
  await press("ArrowUp");
  await press("ArrowUp");
  expect(useRoom.getState().wearer).toBe(3);
  await press("ArrowLeft");
  expect(useRoom.getState().pose).toBe("sit");
  await press("ArrowRight");
  await press("ArrowRight");
  expect(useRoom.getState().pose).toBe("stride");
});

test("a glance lasts as long as its key is held, and ends when the window is left", async () => {
  await press("c");
  expect(useRoom.getState().glance).toBe("clearance");
  await press("c", { repeat: true }); // the keyboard repeats a held key
  await release("c");
  expect(useRoom.getState().glance).toBeNull();
  await press("X"); // the same with capitals locked
  expect(useRoom.getState().glance).toBe("through");
  await act(async () => {
    window.dispatchEvent(new Event("blur"));
  });
  expect(useRoom.getState().glance).toBeNull();
});

test("what is typed into a field is typed, and no command", async () => {
  const field = document.querySelector("input") as HTMLInputElement;
  for (const key of ["c", "ArrowDown", "/", "1"]) await press(key, {}, field);
  await press("z", { ctrlKey: true }, field);
  const { wearer, glance, find } = useRoom.getState();
  expect({ wearer, glance, find, calls }).toEqual({ wearer: 1, glance: null, find: false, calls: [] });
});

test("turning goes by fifteen degrees, and three keys look from front, side and back", async () => {
  await press("e");
  expect(useRoom.getState().yaw).toBeCloseTo(Math.PI / 12, 9);
  await press("q");
  expect(useRoom.getState().yaw).toBeCloseTo(0, 9);
  for (const [key, yaw] of [
    ["2", Math.PI / 2],
    ["3", Math.PI],
    ["1", 0],
  ] as const) {
    await press(key);
    expect(useRoom.getState().yaw).toBeCloseTo(yaw, 9);
  }
});

test("undo takes back the last change of the piece; with the shape open, of the wearer", async () => {
  await press("z", { ctrlKey: true });
  expect(calls).toEqual(['/api/pieces/{piece}/undo {"piece":7}']);
  await press("z", { ctrlKey: true, shiftKey: true }); // there is nothing to redo
  expect(calls).toHaveLength(1);
  useRoom.setState({ panel: "shape" });
  await press("z", { ctrlKey: true });
  expect(calls[1]).toBe('/api/wearers/{wearer}/undo {"wearer":1}');
  await press("y", { ctrlKey: true });
  expect(calls).toHaveLength(2);
});

test("Escape closes what is open, one key opens and closes a panel, a slash finds", async () => {
  await press("s");
  expect(useRoom.getState().panel).toBe("shape");
  await press("s");
  expect(useRoom.getState().panel).toBeNull();
  await press("m");
  await press("/");
  expect(useRoom.getState()).toMatchObject({ panel: "measures", find: true });
  await press("Escape");
  expect(useRoom.getState()).toMatchObject({ panel: null, find: false, sheet: false });
});

test("keys that the browser or a menu has taken are left to it", async () => {
  await press("c", { altKey: true });
  await press("s", { ctrlKey: true });
  const taken = new KeyboardEvent("keydown", { key: "ArrowDown", bubbles: true, cancelable: true });
  taken.preventDefault();
  await act(async () => {
    window.dispatchEvent(taken);
  });
  expect(useRoom.getState()).toMatchObject({ glance: null, panel: null, wearer: 1 });
});

test("keys pressed alone can be turned off; arrows, Escape and undo stay", async () => {
  turnSingleKeys(false);
  await press("2");
  await press("s");
  await press("/");
  expect(useRoom.getState()).toMatchObject({ yaw: 0, panel: null, find: false });
  await press("ArrowDown");
  expect(useRoom.getState().wearer).toBe(2);
  turnSingleKeys(true);
  await press("2");
  expect(useRoom.getState().yaw).toBeCloseTo(Math.PI / 2);
});

test("0 shows the whole figure again", async () => {
  await act(async () => useRoom.getState().set({ zoom: 6, target: [0.2, 1.4, 0] }));
  await press("0");
  expect(useRoom.getState()).toMatchObject({ zoom: 1, target: null });
});
