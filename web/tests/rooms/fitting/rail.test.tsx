// @vitest-environment jsdom
import { act } from "react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { fresh } from "../../../src/recipe/recipe";
import { Rail } from "../../../src/rooms/fitting/Rail";
import { type Asked, house, Refusal } from "../../house";
import { settled, shown } from "../../shown";
import { aFitting, aPiece, aPlace, aProduction, figures, pair, room, roomNow, said } from "../../world";

const COAT = aPiece({
  rail: 2,
  steps: [fresh("receive"), { ...fresh("fit"), ease: 0.009 }],
  undo_label: "Fit to 9 mm",
});
const SMOCK = aPiece({ id: 5, name: "Smock", rail: 1, status: "waiting" });
const BASE = aPiece({ id: 4, name: "Base layer", rail: 0, status: "failed" });

beforeEach(() => room());
afterEach(() => vi.unstubAllGlobals());

async function opened(
  to: {
    pieces?: (typeof COAT)[];
    pairs?: ReturnType<typeof pair>[] | null;
    fitting?: object;
    answers?: Record<string, unknown>;
  } = {},
) {
  const production = aProduction({ pieces: to.pieces ?? [COAT, SMOCK, BASE] });
  const measured = to.pairs ? ({ figures: figures(to.pairs) } as never) : undefined;
  const server = house({ "GET /api/grow": { gloves: ["l_hand"], regions: [] }, ...to.answers });
  const page = await shown(
    <Rail production={production} fitting={aFitting(production, { measured, ...to.fitting })} />,
  );
  return { page, server };
}
const between = (page: Awaited<ReturnType<typeof shown>>) => page.rows(".ml-5");

describe("the cards", () => {
  test("hang from the outermost to the skin, each with what it needs", async () => {
    const { page } = await opened();
    expect(page.rows(".group > button:first-child")).toEqual([
      "Oilskin coatease 9 mm",
      "Smockworking…",
      "Base layerneeds you",
    ]);
    expect(page.text()).toContain("Skin");
  });

  test("a piece that was made for this body needs no fit", async () => {
    const step = { ...fresh("receive"), made_for: { name: "Stilt walker", body: "xx", shape: {} } };
    const { page } = await opened({ pieces: [aPiece({ steps: [step], recipe: { body: "xx" } }), aPiece({ id: 9 })] });
    expect(page.rows(".group > button:first-child")).toEqual(["Oilskin coatmade for it", "Oilskin coatnot fitted"]);
  });

  test("one is chosen by a press, moved by one step, and taken off once that is confirmed", async () => {
    const asked: string[] = [];
    let sure = false;
    vi.stubGlobal("confirm", (words: string) => {
      asked.push(words);
      return sure;
    });
    const { page, server } = await opened({
      answers: { "POST /api/pieces/5/move": {}, "DELETE /api/pieces/5": undefined },
    });
    await page.press("Smock");
    expect(roomNow().piece).toBe(5);
    await page.press("Wear Smock further out");
    await page.press("Wear Smock further in");
    await settled();
    expect(server.sent("POST /api/pieces/5/move")).toEqual([{ outwards: true }, { outwards: false }]);
    await page.press("Take Smock off the rail");
    expect(server.sent("DELETE /api/pieces/5")).toHaveLength(0);
    sure = true;
    await page.press("Take Smock off the rail");
    await settled();
    expect(server.sent("DELETE /api/pieces/5")).toHaveLength(1);
    expect(asked[0]).toContain("A working copy keeps it");
  });
});

describe("between the cards", () => {
  test("stands the least clearance over whatever lies under, by its name", async () => {
    const { page } = await opened({
      pairs: [
        pair("Oilskin coat", "Base layer", 2.3),
        pair("Oilskin coat", "Smock", 4),
        pair("Smock", "Skin", -9.8, { places: [aPlace("left toes", 9.8)] }),
      ],
    });
    expect(between(page)).toEqual([
      "2.3 mm over Base layer",
      "−9.8 mm over Skin, left toes",
      "nothing lies under it here",
    ]);
    const [coat, smock] = page.page.querySelectorAll<HTMLElement>(".ml-5");
    expect(coat?.title.split("\n")).toEqual(["2.3 mm over Base layer", "4.0 mm over Smock"]);
    expect([coat?.className.includes("coral"), smock?.className.includes("coral")]).toEqual([false, true]);
  });

  test("stands no number in a cell that was not measured", async () => {
    const { page } = await opened();
    expect(between(page)).toEqual(Array(3).fill("not measured yet"));
  });

  test("stands no number for a piece that is not on the stage yet", async () => {
    const { page } = await opened({ pairs: [], fitting: { names: new Map([[5, "Smock"]]) } });
    expect(between(page)).toEqual(["not measured yet", "nothing lies under it here", "not measured yet"]);
  });

  test("two pieces of one name are told apart", async () => {
    const pieces = [aPiece({ id: 8, name: "Smock", rail: 1 }), aPiece({ id: 5, name: "Smock", rail: 0 })];
    const names = new Map([
      [5, "Smock"],
      [8, "Smock 2"],
    ]);
    const { page } = await opened({
      pieces,
      fitting: { names },
      pairs: [pair("Smock 2", "Smock", 3), pair("Smock", "Skin", 5)],
    });
    expect(between(page)).toEqual(["3.0 mm over Smock", "5.0 mm over Skin"]);
  });
});

describe("what comes in", () => {
  test("files are sent together, and the new piece is put on at once", async () => {
    const answers = { "POST /api/pieces": aPiece({ id: 40 }), "POST /api/pieces/40/dress": aPiece({ id: 40 }) };
    const { page, server } = await opened({ answers });
    await page.files("Piece files", [new File(["o"], "coat.obj"), new File(["m"], "coat.mtl")]);
    await settled();
    expect(server.sent("POST /api/pieces/40/dress")).toHaveLength(1);
    expect(roomNow()).toMatchObject({ piece: 40, step: null, map: "cloth" });
  });

  test("or the new piece is opened at its first step, if the artist wants to put it on by hand", async () => {
    const { page, server } = await opened({ answers: { "POST /api/pieces": aPiece({ id: 40 }) } });
    await page.press("Dress it at once");
    await page.files("Piece files", [new File(["o"], "coat.obj"), new File(["m"], "coat.mtl")]);
    await settled();
    const [form] = server.sent("POST /api/pieces") as FormData[];
    expect(form?.getAll("files").map((f) => (f as File).name)).toEqual(["coat.obj", "coat.mtl"]);
    expect(roomNow()).toMatchObject({ piece: 40, step: "receive", map: "cloth" });
  });

  test("they are received for the wearer on the stage", async () => {
    const wearers: (string | undefined)[] = [];
    const received = ({ query }: Asked) => {
      wearers.push(query.wearer);
      return aPiece({ id: 42 });
    };
    const { page } = await opened({ answers: { "POST /api/pieces": received } });
    for (const wearer of [null, 2]) {
      room({ wearer, dressAtOnce: false });
      await page.files("Piece files", [new File(["o"], "coat.obj")]);
      await settled();
    }
    expect(wearers).toEqual([undefined, "2"]);
  });

  test("files dropped on the rail come in likewise, and nowhere else", async () => {
    const { page, server } = await opened({ answers: { "POST /api/pieces": aPiece({ id: 41 }) } });
    room({ dressAtOnce: false });
    const drop = Object.assign(new Event("drop", { bubbles: true, cancelable: true }), {
      dataTransfer: { items: [], files: [new File(["g"], "hat.glb")] },
    });
    await act(async () => page.named("section", "Rail").dispatchEvent(drop));
    await settled();
    expect(server.sent("POST /api/pieces")).toHaveLength(1);
    expect(drop.defaultPrevented).toBe(true);
  });

  test("a file that is no piece is explained, and what was open stays open", async () => {
    room({ piece: 7, step: "fit" });
    const refused = new Refusal(422, "there are no faces in it", "empty.obj", "Export the mesh with its faces.");
    const { page } = await opened({ answers: { "POST /api/pieces": refused } });
    await page.files("Piece files", [new File([""], "empty.obj")]);
    await settled();
    expect(said()).toEqual({
      kind: "problem",
      text: "empty.obj: there are no faces in it. Export the mesh with its faces.",
    });
    expect(roomNow()).toMatchObject({ piece: 7, step: "fit" });
  });

  test("the practice coat comes by a press", async () => {
    const { page, server } = await opened({ answers: { "POST /api/pieces/practice": aPiece({ id: 42 }) } });
    await page.press("practice coat");
    await settled();
    expect(server.sent("POST /api/pieces/practice")).toHaveLength(1);
    expect(roomNow().piece).toBe(42);
  });

  test("an empty rail says what goes there", async () => {
    const { page } = await opened({ pieces: [] });
    expect(page.text()).toContain("Pieces you bring in hang here.");
    expect(page.text()).not.toContain("Fit the outfit");
  });
});

describe("the outfit", () => {
  test("is fitted from the skin outwards to this body", async () => {
    const { page, server } = await opened({ answers: { "POST /api/outfit/fit": {} } });
    await page.press("Fit the outfit");
    await settled();
    expect(server.sent("POST /api/outfit/fit")).toEqual([{ outfit: 1, body: "", ease: 0.006 }]);
  });

  test("undo and redo are those of the chosen piece, and say what they do", async () => {
    const { page, server } = await opened({ answers: { "POST /api/pieces/7/undo": {} } });
    expect([page.disabled("Undo"), page.disabled("Redo")]).toEqual([false, true]);
    await page.press("Undo");
    await settled();
    expect(server.sent("POST /api/pieces/7/undo")).toHaveLength(1);
  });

  test("pieces made on another body do not hang here, and can be brought over", async () => {
    const other = aPiece({ id: 30, name: "Stilt trousers", recipe: { body: "xx" } });
    const production = aProduction({
      pieces: [COAT, other],
      bodies: [
        {
          body: "xx",
          name: "Stilt walker",
          shapes: [],
          own_skeleton: false,
          joints: 0,
          vertices: 9,
          stature: 2,
          registered_mm: 1,
          poses: [],
        },
      ],
    });
    const server = house({ "POST /api/pieces/30/over": {} });
    const page = await shown(<Rail production={production} fitting={aFitting(production, { rail: [COAT] })} />);
    expect(page.text()).toContain("1 piece made on other bodies");
    expect(page.text()).toContain("Stilt trousers on Stilt walker");
    await page.press("Bring over");
    await settled();
    expect(server.sent("POST /api/pieces/30/over")).toEqual([{ wearer: 1 }]);
  });
});

describe("growing a piece from the skin", () => {
  const GROW = {
    gloves: ["l_hand", "r_hand"],
    boots: ["l_foot", "sole"],
    regions: ["l_hand", "r_hand", "l_foot", "sole", "neck"],
  };
  const growing = async (answer: unknown = aPiece({ id: 50, name: "Boots" })) => {
    const all = await opened({ answers: { "GET /api/grow": GROW, "POST /api/pieces/grow": answer } });
    await all.page.press("Grow from skin");
    await settled();
    return { ...all, asked: () => all.server.sent("POST /api/pieces/grow").at(-1) };
  };

  test("begins with gloves at the house's ease; boots have a sole", async () => {
    const { page, asked } = await growing();
    expect(page.text()).toContain("2 regions of the body");
    expect(page.has("[role=slider]", "Sole")).toBe(false);
    await page.press("boots");
    await page.slide("Sole", 2);
    await page.press("Grow boots");
    await settled();
    expect(asked()).toEqual({
      wearer: 1,
      name: "Boots",
      regions: ["l_foot", "sole"],
      ease: 0.005,
      hem: 0.012,
      sole: 0.02,
      even: 0.8,
    });
    expect(said()?.text).toBe("Boots grown from Ibbet's skin.");
    expect(roomNow().piece).toBe(50);
    expect(page.has("button", "Grow from skin")).toBe(true); // the panel is put away
  });

  test("regions are taken and left one by one; none makes no piece", async () => {
    const { page, asked } = await growing();
    await page.tick("neck");
    await page.tick("l hand");
    await page.press("Grow gloves");
    await settled();
    expect(asked()).toMatchObject({ regions: ["r_hand", "neck"] });
    await page.press("Grow from skin");
    await settled();
    await page.tick("l hand");
    await page.tick("r hand");
    expect(page.disabled("Grow gloves")).toBe(true);
  });

  test("what cannot be grown is told, and the settings stay", async () => {
    const { page } = await growing(new Refusal(422, "the regions do not meet", "Gloves", "Choose regions that touch."));
    await page.slide("Ease", 4);
    await page.press("Grow gloves");
    await settled();
    expect(said()?.text).toContain("the regions do not meet");
    expect(page.text()).toContain("4.0 mm");
  });
});
