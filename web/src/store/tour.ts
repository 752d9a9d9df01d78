import { create } from "zustand";

const KEPT = "wily-heron.tour";

/** The stops of the tour, in order. */
export const STOPS = ["place", "fit", "sheet", "clear", "drape", "table", "stock", "pack"] as const;
export type Stop = (typeof STOPS)[number];

interface Tour {
  /** Whether the artist is on it. */
  on: boolean;
  /** The stop it stands at, or goes on from. */
  at: number;
  /** Whether it has been gone through to its end, on this machine. */
  done: boolean;
}

const kept = (): Pick<Tour, "at" | "done"> => {
  const text = localStorage.getItem(KEPT) ?? "";
  const at = Number(text);
  return { at: at > 0 && at < STOPS.length ? at : 0, done: text === "done" };
};

/** How far the artist is on the tour; that outlasts the page. */
export const useTour = create<Tour>(() => ({ on: false, ...kept() }));

/** Begin the tour, or go on where it was left; one that is done begins anew. */
export const goOnTour = () => useTour.setState({ on: true });

/** Leave the tour where it stands. */
export const leaveTour = () => useTour.setState({ on: false });

/** Go to a stop; past the last the tour is done. */
export function goToStop(at: number): void {
  const done = at >= STOPS.length;
  localStorage.setItem(KEPT, done ? "done" : String(at));
  useTour.setState(done ? { on: false, at: 0, done } : { at, done });
}
