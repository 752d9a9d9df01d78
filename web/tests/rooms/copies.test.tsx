// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, expect, test } from "vitest";
import type { CopyLine, CopyLook } from "../../src/api/production/copies";
import CopiesDialog from "../../src/rooms/productions/CopiesDialog";
import { house, Refusal } from "../house";
import { settled, shown } from "../shown";
import { aPiece, aProduction, room, roomNow, said } from "../world";

const line = (id: number, name: string, to: Partial<CopyLine> = {}): CopyLine => ({
  id,
  name,
  automatic: false,
  author: "Wrenna",
  made_at: "2026-11-02T08:00:00Z",
  pieces: 2,
  wearers: 2,
  ...to,
});
const FITTING = line(8, "Before the fitting with the director");
const AUTOMATIC = line(9, "Before taking Oilskin coat off", { automatic: true });
const look = (copy: CopyLine, to: Partial<CopyLook> = {}): CopyLook => ({
  copy_line: copy,
  pieces: [
    {
      id: 7,
      name: "Oilskin coat",
      outfit: 1,
      outfit_name: "First outfit",
      label: "Follow all shapes",
      thumb: "aa01",
      since: "gone",
    },
    { id: 5, name: "Smock", outfit: 1, outfit_name: "First outfit", label: "Fit to 4 mm", thumb: null, since: "same" },
  ],
  wearers: [
    { id: 1, name: "Ibbet", since: "changed" },
    { id: 2, name: "Corvane", since: "same" },
  ],
  come_since: ["Scarf"],
  ...to,
});

beforeEach(() => room({ production: 4, copies: true }));

/** The dialog, which stands beside the page that opens it. */
async function opened(copies: CopyLine[], answers: Record<string, unknown> = {}) {
  const server = house({
    "GET /api/copies": () => copies,
    "GET /api/production": aProduction(),
    "GET /api/production/pieces": [],
    "GET /api/outfits": [],
    "GET /api/production/cast": { cast: aProduction().cast, bodies: [] },
    "GET /api/copies/8": look(FITTING),
    "GET /api/copies/9": look(AUTOMATIC, { pieces: [], come_since: [] }),
    ...answers,
  });
  await shown(<CopiesDialog />);
  await settled();
  const dialog = () => document.querySelector("[role=dialog]") as HTMLElement;
  const button = (name: string) =>
    [...dialog().querySelectorAll("button")].find((b) => (b.getAttribute("aria-label") ?? b.textContent) === name) ??
    [...dialog().querySelectorAll("button")].find((b) => b.textContent?.includes(name));
  return {
    server,
    text: () => dialog().textContent ?? "",
    dialog,
    button,
    press: (name: string) => act(async () => (button(name) as HTMLButtonElement).click()),
  };
}

test("a working copy says what stood, what is gone or changed since, and what has come since", async () => {
  const { text, dialog } = await opened([FITTING, AUTOMATIC]);
  for (const words of [
    "Follow all shapes · gone since",
    "Fit to 4 mm",
    "Has come since: Scarf.",
    "Ibbet (changed since), Corvane",
  ])
    expect(text()).toContain(words);
  expect(text()).toContain("2 November 2026 · Wrenna · made by itself");
  expect([...dialog().querySelectorAll("img")].map((i) => i.getAttribute("src"))).toContain(
    "/api/copies/8/picture.png?production=4",
  );
});

test("another copy is looked at by its name", async () => {
  const { press, text } = await opened([FITTING, AUTOMATIC]);
  await press("Before taking Oilskin coat off");
  await settled();
  expect(text()).toContain("Nothing hung on the rail.");
});

test("going back closes the list and says where one is", async () => {
  const { press, server } = await opened([FITTING], { "POST /api/copies/8/go-back": null });
  await press("Go back to it");
  await settled();
  expect(server.sent("POST /api/copies/8/go-back")).toHaveLength(1);
  expect(said()).toEqual({ kind: "done", text: 'The production stands as in "Before the fitting with the director".' });
  expect(roomNow().copies).toBe(false);
});

test("what cannot be gone back to is told, and the list stays", async () => {
  const refusal = new Refusal(404, "there is no working copy 8", "the working copies", "Open the list again.");
  const { press } = await opened([FITTING], { "POST /api/copies/8/go-back": refusal });
  await press("Go back to it");
  await settled();
  expect(said()?.kind).toBe("problem");
  expect(roomNow().copies).toBe(true);
});

test("a piece that is gone or changed is put on the rail; one that hangs there as it did is not offered", async () => {
  const { press, server, dialog } = await opened([FITTING], { "POST /api/copies/8/pieces/7": aPiece({ id: 12 }) });
  expect([...dialog().querySelectorAll("button")].filter((b) => b.textContent === "Put it on the rail")).toHaveLength(
    1,
  );
  await press("Put it on the rail");
  await settled();
  expect(server.asked.find((a) => a.path === "/api/copies/8/pieces/7")?.query).toEqual({
    outfit: "1",
    production: "4",
  });
  expect(said()).toEqual({ kind: "done", text: "Oilskin coat hangs on the rail." });
});

test("a copy is kept under a name, and deleted when asked twice", async () => {
  const copies = [FITTING];
  const { press, server, dialog, text } = await opened(copies, {
    "POST /api/copies": () => copies.unshift(line(10, "Evening")) && copies,
    "GET /api/copies/10": look(line(10, "Evening")),
    "DELETE /api/copies/8": null,
  });
  await press("Delete");
  await press("Delete it for good");
  await settled();
  expect(server.sent("DELETE /api/copies/8")).toHaveLength(1);
  await press("Keep it as it stands now");
  const field = dialog().querySelector("input[aria-label=Name]") as HTMLInputElement;
  await act(async () => {
    Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(field, "Evening");
    field.dispatchEvent(new Event("input", { bubbles: true }));
  });
  await press("Keep it");
  await settled();
  expect(server.sent("POST /api/copies")).toEqual([{ name: "Evening" }]);
  expect(text()).toContain("Evening");
});

test("where there is none, the list says what one is for", async () => {
  const { text } = await opened([]);
  expect(text()).toContain("There is no working copy yet. Keep one before you try something.");
});

test("a whole outfit is taken out of a copy", async () => {
  const { press, server, text } = await opened([FITTING], { "POST /api/copies/8/outfits/1": { id: 5 } });
  expect(text()).toContain("First outfit, the outermost first");
  await press("Take this outfit out");
  await settled();
  expect(server.sent("POST /api/copies/8/outfits/1")).toHaveLength(1);
  expect(said()).toEqual({ kind: "done", text: "First outfit is an outfit of its own again." });
});
