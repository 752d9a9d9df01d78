// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, describe, expect, test } from "vitest";
import type { Stock, StockItem } from "../../src/api/stock";
import { StockCard } from "../../src/rooms/stock/StockCard";
import { START, StockNav } from "../../src/rooms/stock/StockNav";
import { house, Refusal } from "../house";
import { settled, shown } from "../shown";
import { aPiece, aProduction, room, roomNow, said } from "../world";

const SCARF: StockItem = {
  id: 31,
  kind: "piece",
  name: "Scarf",
  category: "top",
  tags: ["wool", "grey"],
  note: "",
  origin: "Reedmarsh wardrobe",
  licence: "own work",
  file_name: "scarf.glb",
  strip: null,
  vertices: 1280,
  size_bytes: 40960,
  findings: 2,
  favourite: false,
  retired: false,
  used_by: ["Winter"],
  made_for: null,
  shelf_id: null,
  version: 3,
  content: {},
  added_by: "Wren",
  added_at: "2026-11-02T08:00:00Z",
};
const SHELVES = [
  { id: 5, parent: null, name: "Winter", count: 2 },
  { id: 6, parent: 5, name: "Boats", count: 3 },
];
const STOCK: Stock = {
  items: [SCARF],
  total: 1,
  categories: [{ name: "top", count: 1 }],
  kinds: [{ name: "piece", count: 1 }],
  tags: [{ name: "wool", count: 1 }],
  shelves: SHELVES,
  bundles: [{ id: 9, name: "Frost", items: [31, 32], names: ["Mittens", "Scarf"], added_by: "Wren" }],
};

beforeEach(() => room({ place: "stock" }));

async function card(item: Partial<StockItem> = {}, answers: Record<string, unknown> = {}) {
  const server = house({
    "GET /api/stock": STOCK,
    "GET /api/stock/31/colourways": { own: {}, colourways: [{ name: "Grey", materials: {} }] },
    "PATCH /api/stock/31": {},
    ...answers,
  });
  const page = await shown(<StockCard item={{ ...SCARF, ...item }} shelves={SHELVES} wearer={2} />);
  await settled();
  return { page, server };
}

describe("a card", () => {
  test("says what the piece is, who wears it, and what is to mend", async () => {
    const { page } = await card();
    const facts = page.rows("dl dt").map((name, i) => `${name}: ${page.rows("dl dd")[i]}`);
    expect(facts).toEqual(
      expect.arrayContaining(["File: scarf.glb", "Version: 3", "Worn as: Winter", "To mend: 2 kinds of damage"]),
    );
    expect(page.text()).toContain("1,280 vertices");
    expect(page.text()).toContain("40 kB");
  });

  test("is put on the wearer at once, in its colours", async () => {
    const { page, server } = await card({}, { "POST /api/stock/31/dress": aPiece({ id: 40 }) });
    await page.press("Grey");
    await page.press("Put on the rail");
    await settled();
    expect(server.sent("POST /api/stock/31/dress")).toEqual([{ wearer: 2, colourway: "Grey", at_once: true }]);
    expect(roomNow()).toMatchObject({ place: "fitting", piece: 40, step: null });
    expect(said()?.text).toBe("Scarf is being put on. Its steps stand on the bench.");
  });

  test("or waits at its first step, where the artist puts pieces on by hand", async () => {
    room({ place: "stock", dressAtOnce: false });
    const { page, server } = await card({}, { "POST /api/stock/31/dress": aPiece({ id: 40 }) });
    await page.press("Put on the rail");
    await settled();
    expect(server.sent("POST /api/stock/31/dress")).toEqual([{ wearer: 2, colourway: null, at_once: false }]);
    expect(roomNow()).toMatchObject({ place: "fitting", piece: 40, step: "receive" });
    expect(said()?.text).toContain("look at what was found");
  });

  test("what is refused leaves the artist in the stockroom, and says why", async () => {
    const refused = new Refusal(404, "there is no wearer 2", "the cast", "Choose one of the cast.");
    const { page } = await card({}, { "POST /api/stock/31/dress": refused });
    await page.press("Put on the rail");
    await settled();
    expect(roomNow()).toMatchObject({ place: "stock", piece: null });
    expect(said()).toEqual({ kind: "problem", text: "the cast: there is no wearer 2. Choose one of the cast." });
  });

  test("of a body lets it join the cast, and stands it on the stage", async () => {
    const done = {
      kind: "body",
      piece: null,
      wearer: 8,
      pose: null,
      motion: null,
      said: "Ferrier has joined the cast.",
    };
    const { page, server } = await card({ kind: "body", name: "Ferrier" }, { "POST /api/stock/31/use": done });
    await page.press("Add to the cast");
    await settled();
    expect(server.sent("POST /api/stock/31/use")).toHaveLength(1);
    expect(roomNow()).toMatchObject({ place: "fitting", wearer: 8 });
    expect(said()?.text).toBe("Ferrier has joined the cast.");
  });

  test("of a fabric has nothing to put on; a retired one is brought back", async () => {
    const fabric = await card({ kind: "fabric" });
    expect(fabric.page.has("button", "Put on the rail")).toBe(false);
    await fabric.page.close();
    const retired = await card({ retired: true }, { "POST /api/stock/31/restore": {} });
    await retired.page.press("Bring back into stock");
    await settled();
    expect(retired.server.sent("POST /api/stock/31/restore")).toHaveLength(1);
    expect(retired.page.has("button", "Retire")).toBe(false);
  });

  test("goes to a shelf, and off it again", async () => {
    const { page, server } = await card({ shelf_id: 5 }, { "POST /api/stock/many": {} });
    expect(await page.options("Shelf")).toEqual(["none", "Winter", "Boats"]);
    await page.choose("Shelf", "6");
    await page.choose("Shelf", "");
    await settled();
    expect(server.sent("POST /api/stock/many")).toEqual([
      { items: [31], shelf: 6, off_shelf: false },
      { items: [31], off_shelf: true },
    ]);
  });

  test("is a favourite by a press", async () => {
    const { page, server } = await card();
    await page.press("Make it a favourite");
    await settled();
    expect(server.sent("PATCH /api/stock/31")).toEqual([{ favourite: true }]);
  });
});

describe("the shelves", () => {
  async function nav(answers: Record<string, unknown> = {}, pieces = aProduction().pieces) {
    const server = house({
      "GET /api/production": aProduction({ pieces }),
      "GET /api/production/pieces": [],
      "GET /api/apart": [],
      ...answers,
    });
    const searches: (typeof START)[] = [];
    const search = { ...START, q: "wool" };
    const page = await shown(<StockNav stock={STOCK} search={search} onSearch={(s) => searches.push(s)} wearer={1} />);
    await settled();
    return { page, server, searches };
  }

  test("a bundle is put on in one press where nothing is worn", async () => {
    const { page, server } = await nav({ "POST /api/bundles/9/dress": [] }, []);
    await page.press("Dress Frost");
    await settled();
    expect(server.sent("POST /api/bundles/9/dress")).toEqual([{ wearer: 1, at_once: true, instead: false }]);
  });

  test("the stock is narrowed to what the open production uses", async () => {
    const { page, searches } = await nav();
    await page.press("From The Reedmarsh Night Post only");
    expect(searches.at(-1)).toMatchObject({ used_in: 4, q: "wool", fits: null });
  });

  test("over what is worn, a bundle is asked about once: over it, or instead of it", async () => {
    const made = [aPiece({ id: 50, name: "Mittens" }), aPiece({ id: 51, name: "Scarf" })];
    const { page, server } = await nav({ "POST /api/bundles/9/dress": made });
    await page.key("button", "Dress Frost", "Enter");
    const asked = [...document.querySelectorAll<HTMLElement>("[role=menuitem]")];
    expect(asked.map((i) => i.textContent)).toEqual(["Over what is worn", "Instead of it, as an outfit of its own"]);
    await act(async () => asked[1]?.click());
    await settled();
    expect(server.sent("POST /api/bundles/9/dress")).toEqual([{ wearer: 1, at_once: true, instead: true }]);
    expect(roomNow()).toMatchObject({ place: "fitting", piece: 51 });
    expect(said()?.text).toBe("Frost: 2 pieces hang on the rail.");
  });

  test("a shelf counts what lies on the shelves in it", async () => {
    const { page, searches } = await nav();
    expect(page.named("button", "Winter").textContent).toBe("Winter5");
    await page.press("Boats");
    expect(searches.at(-1)).toMatchObject({ shelf: 6, q: "wool", kind: null });
  });

  test("a tag narrows what was searched, a category begins anew with the same words", async () => {
    const { page, searches } = await nav();
    await page.press("wool");
    expect(searches.at(-1)).toMatchObject({ tag: "wool", q: "wool" });
    await page.press("top");
    expect(searches.at(-1)).toMatchObject({ category: "top", tag: null, q: "wool" });
  });

  test("a new shelf is named, and stands in the one that is chosen", async () => {
    const { page, server } = await nav({ "POST /api/shelves": { id: 7 } });
    await page.press("New shelf");
    await page.write("Name of the new shelf", "  Rain ");
    await settled();
    expect(server.sent("POST /api/shelves")).toEqual([{ name: "Rain", parent: null }]);
    expect(page.has("input", "Name of the new shelf")).toBe(false);
  });
});
