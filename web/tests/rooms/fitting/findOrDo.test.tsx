// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, expect, test } from "vitest";
import FindOrDo from "../../../src/rooms/fitting/FindOrDo";
import { house } from "../../house";
import { settled, shown } from "../../shown";
import { aFitting, aPiece, aProduction, room, roomNow } from "../../world";

const shot = { name: "A camera", eye: [0, 1, 4], target: [0, 1, 0], up: [0, 1, 0], lens: 0.4, frame: 1.8 } as never;
const production = aProduction({
  pieces: [aPiece({ undo_label: "Fit" })],
  shots: [{ id: 3, shot, wearer: null, pose: null }],
});

beforeEach(() => room({ find: true }));

async function opened(answers: Record<string, unknown> = {}) {
  const server = house(answers);
  await shown(<FindOrDo production={production} fitting={aFitting(production)} />);
  const field = document.querySelector<HTMLInputElement>("[cmdk-input]") as HTMLInputElement;
  const type = (text: string) =>
    act(async () => {
      Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(field, text);
      field.dispatchEvent(new Event("input", { bubbles: true }));
    });
  const found = () => [...document.querySelectorAll("[cmdk-item]")].map((e) => e.textContent);
  const enter = () =>
    act(async () => field.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", bubbles: true })));
  return { server, type, found, enter };
}

test("a few letters find a wearer, a pose, a piece or a step, and say which it is", async () => {
  const { type, found } = await opened();
  for (const [letters, first] of [
    ["corv", "Corvanewearer"],
    ["kneel", "Kneelingpose"],
    ["oilsk", "Oilskin coatpiece"],
    ["drap", "Drapestep"],
  ] as const) {
    await type(letters);
    expect(found()[0]).toBe(first);
  }
  await type("zzqx");
  expect(document.body.textContent).toContain("Nothing by that name.");
});

test.each([
  ["corvane", { wearer: 2, live: null }],
  ["kneeling", { pose: "kneel" }],
  ["oilskin coat piece", { piece: 7 }],
  ["unfold the trial", { sheet: true }],
  ["measures of this", { panel: "measures" }],
  ["look from the back", { yaw: Math.PI }],
  ["look through a camera", { panel: "shots", shot: 3 }],
  ["bend test", { step: "bind", bending: 1 }],
  ["pack the outfit", { place: "packing" }],
])("%s: Enter does it and puts the list away", async (letters, change) => {
  const { type, enter } = await opened();
  await type(letters);
  await enter();
  expect(roomNow()).toMatchObject({ ...change, find: false });
});

test("the sheet is measured and unfolds; undo is the piece's", async () => {
  const { type, enter, server } = await opened({ "POST /api/trials": { id: 9 }, "POST /api/pieces/7/undo": {} });
  await type("measure the trial");
  await enter();
  await settled();
  expect(server.sent("POST /api/trials")).toHaveLength(1);
  expect(roomNow().sheet).toBe(true);
  await type("undo do");
  await enter();
  await settled();
  expect(server.sent("POST /api/pieces/7/undo")).toHaveLength(1);
});

test("redo where there is nothing to redo asks nothing of the server", async () => {
  const { type, enter, server } = await opened();
  await type("redo");
  await enter();
  expect(server.asked).toEqual([]);
});
