// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import type { Step } from "../../src/api/client";
import { Bench } from "../../src/bench/Bench";
import type { Falling } from "../../src/bench/steps/drape/useFalling";
import { fresh } from "../../src/recipe/recipe";
import { house, Refusal } from "../house";
import { settled, shown } from "../shown";
import { aFitting, aPiece, aProduction, type Changes, received, room, roomNow, said } from "../world";

const UPTO: Record<string, Step[]> = {
  receive: [fresh("receive")],
  fit: [fresh("receive"), fresh("fit")],
  bind: [fresh("receive"), fresh("fit"), fresh("bind")],
};

beforeEach(() => room());

async function opened(piece: Changes, answers: Record<string, unknown> = {}) {
  const coat = aPiece({ rail: 2, ...piece });
  // as production has them: the outermost first
  const rail = [
    coat,
    aPiece({ id: 5, name: "Smock", rail: 1, geometry: "s0", finished: "sf" }),
    aPiece({ id: 4, name: "Base layer", rail: 0, geometry: "b0" }),
  ];
  const production = aProduction({ pieces: rail });
  const server = house({
    "GET /api/landmarks": [],
    "GET /api/pieces/7/made-for": [],
    "GET /api/pieces/7/parts": [],
    "GET /api/pieces/7/joints": [],
    ...answers,
  });
  const page = await shown(
    <Bench production={production} piece={coat} fitting={aFitting(production)} falling={{} as Falling} />,
  );
  await settled();
  const put = () =>
    server.sent("PUT /api/pieces/7/recipe") as { recipe: { steps: Step[] }; label: string; based_on: number }[];
  const rows = () => [...page.page.querySelectorAll("ol > li > button")].map((b) => b.textContent);
  return { page, server, put, rows };
}

describe("the thread", () => {
  test("is inked up to where the piece stands, and names the step that comes next", async () => {
    const { page, rows } = await opened({ steps: UPTO.receive });
    expect(rows()).toEqual([
      "Receivecm → m, Y up",
      "Placenext",
      "Fit",
      "Work",
      "Bind",
      "Follow",
      "Clear",
      "Drape",
      "Finish",
    ]);
    expect(page.page.querySelectorAll("li > .bg-heron")).toHaveLength(1);
  });

  test("what need not be done is never next", async () => {
    const { rows } = await opened({ steps: UPTO.fit, report: {} });
    expect(rows().filter((r) => r?.endsWith("next"))).toEqual(["Bindnext"]); // work stands between
  });

  test("a step that is being worked out says so in place of its figures", async () => {
    const { rows } = await opened({ steps: UPTO.fit, status: "waiting", report: { receive: received() } });
    expect(rows()[2]).toBe("Fitworking…");
    expect(rows()[0]).toBe("Receivecm → m, Y up");
  });

  test("a problem of the piece is told above it: where, what, what to do; it can be tried again", async () => {
    const error = { where: "Fit", what: "the piece lies a metre off", todo: "Place it first", status: 422 } as never;
    const { page, server } = await opened({ status: "failed", error }, { "POST /api/pieces/7/again": {} });
    expect(page.named("[role=alert]", "Fit").textContent).toBe(
      "Fitthe piece lies a metre off. Place it firstTry again",
    );
    await page.press("Try again");
    await settled();
    expect(server.sent("POST /api/pieces/7/again")).toHaveLength(1);
  });
});

describe("a step", () => {
  test("opens and closes by its row, and what was picked or painted is put down", async () => {
    room({ map: "weights", picking: { kind: "pin", done: () => undefined } });
    const { page } = await opened({ steps: UPTO.receive });
    await page.press("Place");
    expect(roomNow()).toMatchObject({ step: "place", picking: null, map: "cloth", weights: { tool: null } });
    await page.press("Place");
    expect(roomNow().step).toBeNull();
  });

  test("is begun with the house's defaults, on the edit that is shown", async () => {
    const { page, put } = await opened({ steps: UPTO.receive }, { "PUT /api/pieces/7/recipe": {} });
    await page.press("Place");
    await page.press("Place it");
    await settled();
    expect(put()).toMatchObject([
      { label: "Place", based_on: 31, recipe: { steps: [...(UPTO.receive ?? []), fresh("place")] } },
    ]);
  });

  test("that rests on what is worn under it takes all of that, as it is finished", async () => {
    const { page, put } = await opened({ steps: UPTO.fit }, { "PUT /api/pieces/7/recipe": {} });
    await page.press("Bind");
    await page.press("Bind it");
    await settled();
    expect(put()[0]?.recipe.steps.at(-1)).toMatchObject({ kind: "bind", over: ["sf", "b0"] });
  });

  test("cannot be begun before those it rests on", async () => {
    const { page } = await opened({ steps: UPTO.receive });
    await page.press("Follow");
    expect(page.disabled("Follow it")).toBe(true);
    expect(page.text()).toContain("Do place first.");
  });

  test("is taken back with all that rests on it", async () => {
    const { page, put } = await opened(
      { steps: [...(UPTO.bind ?? []), fresh("follow")] },
      { "PUT /api/pieces/7/recipe": {} },
    );
    await page.press("Bind");
    await page.press("Take this step back");
    await settled();
    expect(put()[0]?.recipe.steps.map((s) => s.kind)).toEqual(["receive", "fit"]);
    expect(put()[0]?.label).toBe("Back to work");
  });

  test("that another artist changed meanwhile is not overwritten: the server says so", async () => {
    const refused = new Refusal(409, "Sella has changed it meanwhile", "Oilskin coat", "Look at it and try again.");
    const { page } = await opened({ steps: UPTO.receive }, { "PUT /api/pieces/7/recipe": refused });
    await page.press("Place");
    await page.press("Place it");
    await settled();
    expect(said()).toEqual({
      kind: "problem",
      text: "Oilskin coat: Sella has changed it meanwhile. Look at it and try again.",
    });
  });
});

describe("dressing", () => {
  const ANSWERS = { "POST /api/pieces/7/dress": aPiece({ id: 7 }) };

  test("is offered for a piece that was only received, and asked for in one press", async () => {
    const { page, server } = await opened({ steps: UPTO.receive }, ANSWERS);
    await page.press("Dress");
    await settled();
    expect(server.sent("POST /api/pieces/7/dress")).toHaveLength(1);
    expect(server.sent("PUT /api/pieces/7/recipe")).toEqual([]); // the steps are the server's to choose
  });

  test.each([
    ["fitted already", { steps: UPTO.fit }],
    ["bound with its own weights", { steps: [fresh("receive"), fresh("bind")] }],
    ["rigid", { steps: UPTO.receive, category: "rigid" }],
    ["being worked out", { steps: UPTO.receive, status: "waiting" as const }],
  ])("is not offered for a piece that is %s", async (_, piece) => {
    const { page } = await opened(piece);
    expect(page.rows("button").filter((b) => b === "Dress")).toEqual([]);
  });
});
