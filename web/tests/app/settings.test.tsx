// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, expect, test } from "vitest";
import SettingsDialog from "../../src/app/settings/SettingsDialog";
import { easeFor, fresh } from "../../src/recipe/recipe";
import { house } from "../house";
import { settled, shown } from "../shown";
import { aProduction, room, roomNow } from "../world";

beforeEach(() => room({ production: 4, settings: true }));

const HOUSE = { ease: {}, holds_cm2: 0.1, lengths: "cm", measure_again: true } as const;

async function opened(settings: Partial<ReturnType<typeof aProduction>["settings"]> = {}) {
  const server = house({ "PUT /api/production/settings": (asked: { body: unknown }) => asked.body });
  await shown(<SettingsDialog production={aProduction({ settings: { ...HOUSE, ...settings } })} />);
  const dialog = document.querySelector("[role=dialog]") as HTMLElement;
  const write = async (label: string, text: string) => {
    const field = dialog.querySelector(`input[aria-label="${label}"]`) as HTMLInputElement;
    await act(async () => {
      Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(field, text);
      field.dispatchEvent(new Event("input", { bubbles: true }));
    });
    await act(async () => field.dispatchEvent(new FocusEvent("focusout", { bubbles: true })));
    await settled();
  };
  return { sent: () => server.sent("PUT /api/production/settings"), write, dialog };
}

test("an ease is kept for its category in metres, and one as the house has it is none", async () => {
  const { sent, write } = await opened({ ease: { top: 0.015 } });
  await write("Footwear, mm", "5");
  await write("Top, mm", String(easeFor("", { ease: {} }) * 1000));
  expect(sent()).toEqual([
    { ...HOUSE, ease: { top: 0.015, footwear: 0.005 } },
    { ...HOUSE, ease: {} },
  ]);
});

test("what a cell may show is kept, and no more than makes sense", async () => {
  const { sent, write } = await opened();
  await write("A cell holds while it shows at most, cm²", "0.5");
  await write("A cell holds while it shows at most, cm²", "4000");
  expect(sent().map((s) => (s as typeof HOUSE).holds_cm2)).toEqual([0.5, 100]);
});

test("measuring again by itself is turned off", async () => {
  const { sent, dialog } = await opened();
  await act(async () => dialog.querySelector<HTMLElement>("[role=checkbox]")?.click());
  await settled();
  expect(sent()).toEqual([{ ...HOUSE, measure_again: false }]);
});

test("closing leaves the room as it was", async () => {
  const { dialog } = await opened();
  await act(async () => dialog.querySelector<HTMLElement>("[aria-label=Close]")?.click());
  expect(roomNow().settings).toBe(false);
});

test("a fit begins with what was settled for its category, else with its own", () => {
  expect(easeFor("top", { ease: { top: 0.02 } })).toBe(0.02);
  expect(easeFor("bottom", { ease: { top: 0.02 } })).toBe(fresh("fit").ease);
});
