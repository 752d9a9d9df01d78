import { create } from "zustand";
import type { StepKind } from "../api/client";

export type MapKind = "cloth" | "clearance" | "mesh";
export type Panel = "shape" | "measures" | "poses";
export interface Saying {
  kind: "problem" | "done";
  text: string;
}

/** Only what the server does not hold: where the artist looks and what is open. */
interface Room {
  wearer: number | null;
  pose: string;
  piece: number | null;
  step: StepKind | null;
  map: MapKind;
  glance: "clearance" | "through" | "before" | null;
  sheet: boolean;
  panel: Panel | null;
  tape: string | null;
  find: boolean;
  live: Record<string, number> | null;
  yaw: number;
  pitch: number;
  zoom: number;
  place: "fitting" | "packing";
  saying: Saying | null;
  set(change: Partial<Omit<Room, "set" | "say" | "turn">>): void;
  say(saying: Saying | null): void;
  turn(by: number): void;
}

export const useRoom = create<Room>((set) => ({
  wearer: null,
  pose: "stand",
  piece: null,
  step: null,
  map: "cloth",
  glance: null,
  sheet: false,
  panel: null,
  tape: null,
  find: false,
  live: null,
  yaw: 0.35,
  pitch: 0.06,
  zoom: 1,
  place: "fitting",
  saying: null,
  set: (change) => set(change),
  say: (saying) => set({ saying }),
  turn: (by) => set((s) => ({ yaw: s.yaw + by })),
}));
