import { type Room, useRoom } from "../../store/room";
import type { Stop } from "../../store/tour";

type View = Partial<Pick<Room, "place" | "sheet" | "step" | "apart" | "panel">>;

const BENCH: View = { place: "fitting", sheet: false, panel: null };

/** What each stop opens, and what on the screen it is about. */
export const VIEWS: Record<Stop, { view: View; about: string }> = {
  place: { view: { ...BENCH, step: "place" }, about: '[data-step="place"]' },
  fit: { view: { ...BENCH, step: "fit" }, about: '[data-step="fit"]' },
  sheet: { view: { ...BENCH, sheet: true }, about: '[data-room="sheet"]' },
  clear: { view: { ...BENCH, step: "clear" }, about: '[data-step="clear"]' },
  drape: { view: { ...BENCH, step: "drape" }, about: '[data-step="drape"]' },
  table: { view: { place: "table" }, about: '[data-room="table"]' },
  stock: { view: { place: "stock", apart: null }, about: '[data-room="stock"]' },
  pack: { view: { place: "packing" }, about: '[data-room="packing"]' },
};

/** Open what a stop is about. */
export function open(stop: Stop): void {
  useRoom.getState().set({ ...VIEWS[stop].view, picking: null });
}
