// @vitest-environment jsdom
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { fresh } from "../../src/recipe/recipe";
import { PackingRoom } from "../../src/rooms/packing/PackingRoom";
import { house, Refusal } from "../house";
import { settled, shown } from "../shown";
import { aCell, aPiece, aProduction, aTrial, aWearer, figures, pair, received, room, said } from "../world";

const READY = [fresh("receive"), fresh("fit"), fresh("bind"), fresh("follow")];
const COAT = aPiece({
  steps: READY,
  report: { receive: received(), bind: { joints: 24 } as never, follow: { shapes: 22 } as never },
});

beforeEach(() => {
  room();
  URL.createObjectURL = () => "blob:pack";
});
afterEach(() => vi.restoreAllMocks());

async function opened(pieces = [COAT], answers: Record<string, unknown> = {}) {
  const cast = [aWearer(1, "Ibbet"), aWearer(2, "Corvane"), aWearer(3, "Stilt walker", { body: "xx" })];
  const holds = figures([pair("Oilskin coat", "Skin", 3)]);
  const server = house({
    "GET /api/trials/latest": aTrial([aCell(1, "stand", holds), aCell(2, "stand", null)]),
    ...answers,
  });
  const page = await shown(<PackingRoom production={aProduction({ pieces, cast })} />);
  await settled();
  return { page, server };
}

test("the list says what goes in and what was checked", async () => {
  const { page } = await opened();
  for (const words of ["4210 vertices · 24 joints · 22 shapes", "2 wearers × 3 poses", "1 of 2 cells hold"])
    expect(page.text()).toContain(words);
});

test("a sheet that was never measured, or before the last change, is not passed off as checked", async () => {
  expect((await opened([COAT], { "GET /api/trials/latest": null })).page.text()).toContain(
    "The trial sheet has not been measured.",
  );
  const stale = aTrial([], { stale: true });
  expect((await opened([COAT], { "GET /api/trials/latest": stale })).page.text()).toContain(
    "measured before the last change (not packed)",
  );
});

test("the pack of the chosen wearer is saved under the server's name", async () => {
  const saved: string[] = [];
  vi.spyOn(HTMLAnchorElement.prototype, "click").mockImplementation(function (this: HTMLAnchorElement) {
    saved.push(this.download);
  });
  const file = () =>
    new Response("glTF", { headers: { "Content-Disposition": 'attachment; filename="night-post-corvane.glb"' } });
  const { page, server } = await opened([COAT], { "GET /api/packs/2.glb": file });
  await page.press("Corvane");
  await page.press("Pack it");
  await settled();
  expect(server.sent("GET /api/packs/2.glb")).toHaveLength(1);
  expect(saved).toEqual(["night-post-corvane.glb"]);
  expect(said()).toEqual({ kind: "done", text: "night-post-corvane.glb is packed." });
});

test("a pack that cannot be made says why and can be asked for again", async () => {
  const { page } = await opened([COAT], {
    "GET /api/packs/1.glb": new Refusal(422, "the smock is not bound", "Smock", "Bind it."),
  });
  await page.press("Pack it");
  await settled();
  expect(said()).toEqual({ kind: "problem", text: "Smock: the smock is not bound. Bind it." });
  expect(page.disabled("Pack it")).toBe(false);
});

test("pieces that do not follow yet are named, and hold the pack back", async () => {
  const { page } = await opened([COAT, aPiece({ id: 9, name: "Sash", steps: READY.slice(0, 3) })]);
  expect(page.text()).toContain("Sash: do Bind and Follow in the Fitting room first.");
  expect(page.disabled("Pack it")).toBe(true);
});

test("only what hangs on the chosen wearer's body is packed", async () => {
  const { page } = await opened();
  await page.press("Stilt walker");
  expect(page.text()).toContain("Nothing hangs on the rail of this body yet.");
  expect(page.text()).toContain("1 wearer × 3 poses");
  expect(page.disabled("Pack it")).toBe(true);
});
