// @vitest-environment jsdom
import { QueryClient } from "@tanstack/react-query";
import { beforeEach, expect, test, vi } from "vitest";
import { api, inProduction } from "../../src/api/client";
import { enter, followProduction, nameOf, type ProductionLine } from "../../src/api/production/productions";
import { ProductionsPage } from "../../src/rooms/productions/ProductionsPage";
import { whenOpened } from "../../src/rooms/productions/whenOpened";
import { leaveTour, useTour } from "../../src/store/tour";
import { house, Refusal } from "../house";
import { settled, shown } from "../shown";
import { aPiece, room, roomNow, said } from "../world";

const line = (id: number, name: string, to: Partial<ProductionLine> = {}): ProductionLine => ({
  id,
  name,
  made_at: "2026-10-01T08:00:00Z",
  opened_at: "2026-11-02T08:00:00Z",
  binned_at: null,
  wearers: 3,
  pieces: 1,
  poses: 5,
  bytes: 1_240_000,
  artists: ["Wrenna", "Orrel"],
  faces: [
    { wearer: 11, name: "Ibbet" },
    { wearer: 12, name: "Corvane" },
  ],
  ...to,
});
const POST = line(4, "The Reedmarsh Night Post");
const ROAD = line(9, "The Salt Road", { wearers: 1, artists: [], faces: [] });

beforeEach(() => {
  room({ place: "productions" });
  vi.stubGlobal("matchMedia", () => ({ matches: false, addEventListener: () => {}, removeEventListener: () => {} }));
});

async function opened(lines: ProductionLine[], answers: Record<string, unknown> = {}) {
  const server = house({
    "GET /api/productions": () => lines,
    "GET /api/productions/demo": { offered: !lines.length },
    ...answers,
  });
  const page = await shown(<ProductionsPage />);
  await settled();
  return { page, server };
}

test("a card says what is in a production, who worked there, and shows its wearers dressed", async () => {
  const { page } = await opened([POST]);
  for (const words of ["3 wearers · 1 piece · 5 poses", "1.2 MB", "Worked on by Wrenna, Orrel", "2 November 2026"])
    expect(page.text()).toContain(words);
  expect([...page.page.querySelectorAll("img")].map((i) => [i.getAttribute("src"), i.alt])).toEqual([
    ["/api/pictures/dressed/11.png", "Ibbet"],
    ["/api/pictures/dressed/12.png", "Corvane"],
  ]);
});

test("pressed, a production opens with nothing of the one before in hand", async () => {
  room({ place: "productions", production: 9, wearer: 3, piece: 7, step: "fit", sheet: true, apart: 2, pose: "sit" });
  const { page, server } = await opened([POST, ROAD], { "POST /api/productions/4/open": null });
  await page.press("Open The Reedmarsh Night Post");
  await settled();
  expect(roomNow()).toMatchObject({
    production: 4,
    place: "fitting",
    wearer: null,
    piece: null,
    step: null,
    pose: "stand",
  });
  expect(roomNow()).toMatchObject({ sheet: false, apart: null });
  expect(server.sent("POST /api/productions/4/open")).toHaveLength(1);
});

test("what is asked of the server is asked about the open production, and nothing read of another is shown", async () => {
  const server = house({ "GET /api/trials/latest": null, "POST /api/productions/9/open": null });
  await api.GET("/api/trials/latest");
  room({ production: 4 });
  await api.GET("/api/trials/latest");
  expect(server.asked.map((a) => a.query)).toEqual([{}, { production: "4" }]);
  expect(inProduction("/api/pieces")).toBe("/api/pieces?production=4");
  expect(inProduction("/api/pieces?wearer=2")).toBe("/api/pieces?wearer=2&production=4");
  const client = new QueryClient();
  client.setQueryData(["pieces"], ["a coat of production 4"]);
  client.setQueryData(["productions"], [POST]);
  followProduction(client);
  enter(9);
  await settled();
  expect(client.getQueryData(["pieces"])).toBeUndefined();
  expect(client.getQueryData(["productions"])).toEqual([POST]);
});

test("a production is begun with a name, and opens; without one it is not", async () => {
  const { page, server } = await opened([], {
    "POST /api/productions": { id: 12 },
    "POST /api/productions/12/open": null,
  });
  expect(page.text()).toContain("There is no production yet.");
  await page.press("Begin a production");
  expect(page.disabled("Begin it")).toBe(true);
  await page.write("Name", "The Salt Road", null);
  await page.press("Begin it");
  await settled();
  expect(server.sent("POST /api/productions")).toEqual([{ name: "The Salt Road" }]);
  expect(roomNow()).toMatchObject({ production: 12, place: "fitting" });
});

test("a production is renamed, duplicated and put into the bin on its card", async () => {
  const { page, server } = await opened([ROAD], {
    "PATCH /api/productions/9": null,
    "POST /api/productions/9/duplicate": { id: 10 },
    "POST /api/productions/9/bin": null,
  });
  await page.press("Rename");
  await page.write("Name", "The Salt Road, spring", null);
  await page.press("Keep it");
  await page.press("Duplicate");
  await page.press("Put into the bin");
  await settled();
  expect(server.sent("PATCH /api/productions/9")).toEqual([{ name: "The Salt Road, spring" }]);
  expect(server.sent("POST /api/productions/9/duplicate")).toHaveLength(1);
  expect(server.sent("POST /api/productions/9/bin")).toHaveLength(1);
  expect(page.named("a", "Archive").getAttribute("href")).toBe("/api/productions/9/archive");
});

test("the bin is emptied only when asked twice, and what lies in it can be taken out", async () => {
  const binned = { ...ROAD, binned_at: "2026-11-03T08:00:00Z" };
  const { page, server } = await opened([POST, binned], {
    "DELETE /api/productions/bin": { gone: [9] },
    "POST /api/productions/9/restore": null,
  });
  expect(page.has("button", "Open The Salt Road")).toBe(false);
  await page.press("Empty the bin");
  await page.press("Cancel");
  expect(server.sent("DELETE /api/productions/bin")).toHaveLength(0);
  await page.press("Take out of the bin");
  await page.press("Empty the bin");
  await page.press("Delete 1 for good");
  await settled();
  expect(server.sent("DELETE /api/productions/bin")).toHaveLength(1);
  expect(server.sent("POST /api/productions/9/restore")).toHaveLength(1);
});

test("an archive is unpacked beside the others, or what is wrong with it is said", async () => {
  let answer: unknown = { id: 13 };
  const { page, server } = await opened([POST], { "POST /api/productions/unpack": () => answer });
  const file = new File(["zip"], "night-post.heron.zip");
  await page.files("Unpack an archive", [file]);
  await settled();
  const form = server.sent("POST /api/productions/unpack")[0] as FormData;
  expect((form.get("file") as File).name).toBe("night-post.heron.zip");
  expect(said()).toEqual({ kind: "done", text: "The archive is unpacked." });
  answer = new Refusal(422, "blobs/aa is damaged", "night-post.heron.zip", "Choose another.");
  await page.files("Unpack an archive", [file]);
  await settled();
  expect(said()).toEqual({ kind: "problem", text: "night-post.heron.zip: blobs/aa is damaged. Choose another." });
});

test("many productions are found by a part of their name", async () => {
  const { page } = await opened([...Array(7)].map((_, k) => line(20 + k, k ? `Reel ${k}` : "The Salt Road")));
  await page.write("Find a production", "salt", null);
  expect(page.rows("h2")).toEqual(["The Salt Road"]);
  await page.write("Find a production", "nothing so called", null);
  expect(page.text()).toContain("No production has that in its name.");
});

test("a day is named as one says it", () => {
  const now = new Date(2026, 10, 2, 0, 10);
  expect(whenOpened(new Date(2026, 10, 2, 0, 5), now)).toBe("today, 00:05");
  expect(whenOpened(new Date(2026, 10, 1, 23, 59), now)).toBe("yesterday, 23:59");
  expect(whenOpened(new Date(2026, 9, 31, 23, 59), now)).toBe("31 October 2026");
});

test("a production is begun with a file: called after it, with the piece put on", async () => {
  const { page, server } = await opened([POST], {
    "POST /api/productions": { id: 12 },
    "POST /api/pieces": aPiece({ id: 31 }),
    "POST /api/pieces/31/dress": aPiece({ id: 31 }),
  });
  await page.files("Begin with a file", [new File(["v"], "ferry-smock.v2.obj")]);
  await settled();
  expect(server.sent("POST /api/productions")).toEqual([{ name: "Ferry smock v2" }]);
  const brought = server.asked.find((a) => a.path === "/api/pieces");
  expect(brought?.query).toEqual({ production: "12" });
  expect(roomNow()).toMatchObject({ production: 12, place: "fitting", piece: 31 });
  expect(server.sent("POST /api/pieces/31/dress")).toHaveLength(1);
});

test("a file that cannot be read is told, in the production that was begun for it", async () => {
  const { page } = await opened([], {
    "POST /api/productions": { id: 12 },
    "POST /api/pieces": new Refusal(422, "it is empty", "smock.obj", "Choose another."),
  });
  await page.files("Begin with a file", [new File([], "smock.obj")]);
  await settled();
  expect(said()).toEqual({ kind: "problem", text: "smock.obj: it is empty. Choose another." });
  expect(roomNow()).toMatchObject({ production: 12, place: "fitting", piece: null });
});

test("a production is called after its file as one would say it", () => {
  expect(nameOf("marsh_boots-final.glb")).toBe("Marsh boots final");
  expect(nameOf(".obj")).toBe("New production");
});

test("without a production the demo film is offered; loaded, it is gone into on a tour", async () => {
  const { page } = await opened([], {
    "POST /api/productions/demo": { id: 4 },
    "POST /api/productions/4/open": null,
  });
  await page.press("Load the demo film");
  await settled();
  expect(roomNow()).toMatchObject({ production: 4, place: "fitting" });
  expect(useTour.getState()).toMatchObject({ on: true, at: 0 });
  leaveTour();
});

test("a studio that comes without the film offers the other two ways", async () => {
  const { page } = await opened([], { "GET /api/productions/demo": { offered: false } });
  expect(page.has("button", "Load the demo film")).toBe(false);
  await page.press("Begin a production");
  expect(page.has("button", "Begin it")).toBe(true);
});
