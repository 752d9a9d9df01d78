// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, expect, test } from "vitest";
import { dressedIn, hangsFor, outfitOf } from "../../../src/recipe/outfits";
import { OutfitBar } from "../../../src/rooms/fitting/OutfitBar";
import { house, Refusal } from "../../house";
import { settled, shown } from "../../shown";
import { aPiece, aProduction, aWearer, room, roomNow, said } from "../../world";

const OUTFITS = [
  { id: 1, name: "First outfit", pieces: 2, worn_by: [1], owners: [1, 2] },
  { id: 2, name: "Rain", pieces: 3, worn_by: [2], owners: [2] },
  { id: 3, name: "Undress", pieces: 1, worn_by: [], owners: [] },
];
const IBBET = aWearer(1, "Ibbet");

beforeEach(() => room({ production: 4 }));

async function opened(answers: Record<string, unknown> = {}) {
  const server = house(answers);
  const page = await shown(<OutfitBar production={aProduction({ outfits: OUTFITS })} wearer={IBBET} />);
  const items = () => [...document.querySelectorAll<HTMLElement>("[role=menuitem]")];
  return {
    page,
    server,
    menu: async () => {
      await page.key("button", "Outfits", "Enter");
      return items().map((i) => i.textContent);
    },
    pick: (name: string) =>
      act(async () => (items().find((i) => i.textContent?.startsWith(name)) as HTMLElement).click()),
  };
}

test("a piece hangs for who has its outfit on, on the body it is made on", () => {
  const piece = aPiece({ outfit: 2 });
  expect(hangsFor(piece, { outfit: 2, body: null })).toBe(true);
  expect(hangsFor(piece, { outfit: 1, body: null })).toBe(false);
  expect(hangsFor(piece, { outfit: 2, body: "xx" })).toBe(false);
  expect(hangsFor(piece, undefined)).toBe(false);
  expect(outfitOf(OUTFITS, { outfit: 2, body: null })).toBe("Rain");
  expect(outfitOf(OUTFITS, { outfit: 9, body: null })).toBe("");
});

test("a wearer changes into another outfit by its name", async () => {
  const { page, server } = await opened({ "PUT /api/wearers/1/outfit": null });
  expect(await page.options("What Ibbet has on")).toEqual(["First outfit", "Rain", "Undress"]);
  await page.choose("What Ibbet has on", "2");
  await settled();
  expect(server.sent("PUT /api/wearers/1/outfit")).toEqual([{ outfit: 2 }]);
});

test("an outfit is begun empty or like this one, and put on", async () => {
  const { page, server, menu, pick } = await opened({ "POST /api/outfits": { id: 4 } });
  await menu();
  await pick("Begin an outfit");
  await page.write("Name", "Winter", null);
  await page.press("Put it on");
  await settled();
  await menu();
  await pick("Copy this outfit");
  expect(page.value("Name")).toBe("First outfit, copy");
  await page.press("Put it on");
  await settled();
  expect(server.sent("POST /api/outfits")).toEqual([
    { name: "Winter", wearer: 1 },
    { name: "First outfit, copy", wearer: 1, like: 1 },
  ]);
});

test("an outfit is renamed; a name that is taken is said, and what was typed stays", async () => {
  const taken = new Refusal(422, "there is already an outfit called Rain", "the outfits", "Choose another name.");
  const { page, menu, pick } = await opened({ "PATCH /api/outfits/1": taken });
  await menu();
  await pick("Rename this outfit");
  await page.write("Name", "Rain", null);
  await page.press("Keep it");
  await settled();
  expect(said()?.text).toContain("already an outfit called Rain");
  expect(page.value("Name")).toBe("Rain");
});

test("only an outfit that nobody has on can be deleted", async () => {
  const { server, menu, pick } = await opened({ "DELETE /api/outfits/3": null });
  expect((await menu()).filter((i) => i?.startsWith("Delete"))).toEqual(["Delete Undress"]);
  await pick("Delete Undress");
  await settled();
  expect(server.sent("DELETE /api/outfits/3")).toHaveLength(1);
});

test("another outfit is looked at beside the one that is on, until one has seen enough", async () => {
  const { menu, pick } = await opened();
  expect((await menu()).slice(0, 2)).toEqual(["Compare with Rain", "Compare with Undress"]);
  await pick("Compare with Rain");
  expect(roomNow().beside).toBe(2);
  expect((await menu()).slice(0, 2)).toEqual(["Compare with Undress", "Stop comparing"]);
  await pick("Stop comparing");
  expect(roomNow().beside).toBe(null);
});

test("a wearer dressed in another outfit to look at is nobody else, and has nothing else changed", () => {
  const production = aProduction({ outfits: OUTFITS });
  const other = dressedIn(production, 1, 2);
  expect(other.cast.map((w) => w.outfit)).toEqual([2, ...production.cast.slice(1).map((w) => w.outfit)]);
  expect(other.pieces).toBe(production.pieces);
  expect(production.cast[0]?.outfit).toBe(1);
});
