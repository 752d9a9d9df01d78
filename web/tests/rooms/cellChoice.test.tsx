// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, expect, test } from "vitest";
import { aTrial, aWearer, room, roomNow } from "../world";
import { opened, production, TRIAL } from "./sheet";

beforeEach(() => room({ sheet: true }));

const RAIN = { id: 2, name: "Rain", place: 2 };
const twoOutfits = { ...production, outfits: [...production.outfits, RAIN] as typeof production.outfits };

async function choosing(to: Parameters<typeof opened>[0] = {}) {
  const sheet = await opened({ answers: { "POST /api/trials": { id: 5 } }, ...to });
  await sheet.page.press("Cells · all");
  const popover = () => document.querySelector("[aria-label='Cells to measure']") as HTMLElement;
  const tick = (label: string) =>
    act(async () => {
      const row = [...popover().querySelectorAll("label")].find((l) => l.textContent === label);
      row?.querySelector<HTMLElement>("[role=checkbox]")?.click();
    });
  return { ...sheet, popover, tick };
}

test("only the rows and columns that are ticked are measured", async () => {
  const { page, server, tick } = await choosing();
  await tick("Corvane");
  await tick("Standing");
  expect(roomNow().choice).toEqual({ wearers: [1], columns: ["kneel"], outfit: null });
  expect(page.text()).toContain("Cells · chosen");
  await page.press("Measure the chosen cells");
  expect(server.sent("POST /api/trials")).toEqual([{ wearers: [1], columns: ["kneel"], outfit: null }]);
});

test("ticking the last one again is choosing all", async () => {
  const { tick } = await choosing();
  await tick("Corvane");
  await tick("Corvane");
  expect(roomNow().choice.wearers).toBe(null);
});

test("an outfit is chosen only where there are several, and the sheet says when everybody is in it", async () => {
  const { popover } = await choosing();
  expect(popover().textContent).not.toContain("Outfit");
  room({ sheet: true });
  const inRain = await choosing({ production: twoOutfits, trial: aTrial(TRIAL.cells, { of_outfit: 2 }) });
  expect(inRain.page.text()).toContain("everybody in Rain");
  expect(inRain.popover().textContent).toContain("Outfit");
});

test("many rows are found by name", async () => {
  const cast = Array.from({ length: 20 }, (_, k) => aWearer(k + 1, `Extra ${k + 1}`));
  const { popover } = await choosing({ production: { ...production, cast }, trial: null });
  const field = popover().querySelector("[aria-label='Find in wearers']") as HTMLInputElement;
  await act(async () => {
    Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(field, "extra 13");
    field.dispatchEvent(new Event("input", { bubbles: true }));
  });
  const rows = [...popover().querySelectorAll("fieldset:first-of-type label")].map((l) => l.textContent);
  expect(rows).toEqual(["Extra 13"]);
});
