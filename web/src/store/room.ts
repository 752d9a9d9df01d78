import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";
import type { Rotations } from "../api/client";
import type { components } from "../api/schema";
import type { BenchStep } from "../recipe/recipe";

export type MapKind = "cloth" | "clearance" | "weights" | "faults" | "mesh";
export type Panel = "shape" | "measures" | "poses" | "wear" | "shots";

/** A pose in the making: its rotations, the joint in hand, and the steps taken. */
export interface Posing {
  rotations: Rotations;
  joint: string | null;
  degrees: number[];
  short: number;
  past: Rotations[];
  next: Rotations[];
}
export type HandTool = "pull" | "press" | "puff" | "iron" | "protect" | "release";
/** The brush of the hand tools (metres), or no tool in hand. */
export interface Hand {
  tool: HandTool | null;
  radius: number;
  strength: number;
  mirror: boolean;
  elastic: boolean;
  offset: number;
  last: number | null;
}
export type WeightTool = "add" | "take" | "blend" | "iron" | "share";
/** The weight brush: the joint it works on, the other of a pair, joints that are locked; the faults that are shown (vertices). */
export interface Weights {
  tool: WeightTool | null;
  joint: string;
  other: string;
  radius: number;
  strength: number;
  mirror: boolean;
  locks: string[];
  faults: number[];
  last: number | null;
  /** Counts what has come back from the server, so that the map is drawn anew. */
  painted: number;
}
export interface Picking {
  kind: "pin" | "snap" | "line" | "off" | "select" | "ease";
  landmark?: string;
  /** The tool that asked, where several ask for the same. */
  tool?: string;
  done(picked: { rows: number[]; points: [number, number, number][] }): void;
}
export interface Saying {
  kind: "problem" | "done";
  text: string;
}

/** Only what the server does not hold: where the artist looks and what is open. */
export interface Room {
  /** The production that is open; null until one has come: the one opened last. */
  production: number | null;
  wearer: number | null;
  pose: string;
  piece: number | null;
  step: BenchStep | null;
  hand: Hand;
  weights: Weights;
  /** Whether a piece brought in is put on at once. */
  dressAtOnce: boolean;
  /** How often the bend test has been asked for. */
  bending: number;
  /** What a click or a drag on the piece means just now. */
  picking: Picking | null;
  /** What a line drawn round part of the stage is for: told the camera's matrix and the line in device coordinates. */
  lasso: ((clip: number[], outline: [number, number][]) => void) | null;
  map: MapKind;
  glance: "clearance" | "through" | "before" | null;
  sheet: boolean;
  panel: Panel | null;
  tape: string | null;
  posing: Posing | null;
  /** The rotations of the wearer in the frame of a drape that is shown. */
  draping: Rotations | null;
  /** The wearer's shape while it changes under falling cloth. */
  drapingShape: Record<string, number> | null;
  /** The motion that the drape goes through, if it does. */
  drapedThrough: string;
  /** What falling cloth shows: itself, its strain, or how far it lies off what it falls on. */
  fallen: "cloth" | "strain" | "contact";
  motion: string | null;
  find: boolean;
  /** The outfit that is looked at beside the one the wearer has on. */
  beside: number | null;
  /** Whether the working copies are open. */
  copies: boolean;
  /** Whether the settings of the production are open. */
  settings: boolean;
  /** Whether the list of jobs is open. */
  jobs: boolean;
  /** Which cells of the sheet are measured: all rows or columns where there is no list; in one outfit, or in what each has on. */
  choice: { wearers: number[] | null; columns: string[] | null; outfit: number | null };
  live: Record<string, number> | null;
  /** The shot that is looked through; turning the figure leaves it. */
  shot: number | null;
  /** A place that is looked at closely, as a shot; turning the figure leaves it. */
  look: components["schemas"]["Shot"] | null;
  yaw: number;
  pitch: number;
  zoom: number;
  /** What the camera looks at and goes round; the middle of the figure where it is none. */
  target: [number, number, number] | null;
  place: "productions" | "fitting" | "table" | "stock" | "packing";
  /** The dressed body open on the taking-apart page of the stockroom. */
  apart: number | null;
  saying: Saying | null;
  set(change: Partial<Omit<Room, "set" | "say" | "turn">>): void;
  say(saying: Saying | null): void;
  turn(by: number): void;
}

/** What is as at first in every production: who is looked at, in what pose, with which piece in hand. */
export const AT_FIRST: Pick<
  Room,
  | "wearer"
  | "pose"
  | "piece"
  | "step"
  | "sheet"
  | "apart"
  | "panel"
  | "posing"
  | "live"
  | "shot"
  | "look"
  | "choice"
  | "beside"
> = {
  wearer: null,
  pose: "stand",
  piece: null,
  step: null,
  sheet: false,
  apart: null,
  panel: null,
  posing: null,
  live: null,
  shot: null,
  look: null,
  beside: null,
  choice: { wearers: null, columns: null, outfit: null },
};

export const useRoom = create<Room>((set) => ({
  production: null,
  ...AT_FIRST,
  hand: { tool: null, radius: 0.06, strength: 1, mirror: true, elastic: false, offset: 0.004, last: null },
  weights: {
    tool: null,
    joint: "",
    other: "",
    radius: 0.05,
    strength: 0.3,
    mirror: true,
    locks: [],
    faults: [],
    last: null,
    painted: 0,
  },
  dressAtOnce: true,
  bending: 0,
  picking: null,
  lasso: null,
  map: "cloth",
  glance: null,
  tape: null,
  draping: null,
  drapingShape: null,
  drapedThrough: "",
  fallen: "cloth",
  motion: null,
  find: false,
  copies: false,
  jobs: false,
  settings: false,
  yaw: 0.35,
  pitch: 0.06,
  zoom: 1,
  target: null,
  place: "fitting",
  saying: null,
  set: (change) =>
    set({
      ...(("pose" in change || "posing" in change) && { motion: null }),
      ...(("yaw" in change || "pitch" in change || "zoom" in change || "target" in change) && {
        shot: null,
        look: null,
      }),
      ...(("wearer" in change || "pose" in change || "shot" in change) && { look: null }),
      ...change,
    }),
  say: (saying) => set({ saying }),
  turn: (by) => set((s) => ({ yaw: s.yaw + by, shot: null, look: null })),
}));

/** Some fields of the room: a component is drawn anew when one of these changes, and for no other. */
export function useRoomOf<K extends keyof Room>(...fields: K[]): Pick<Room, K> {
  return useRoom(
    useShallow((room) => Object.fromEntries(fields.map((field) => [field, room[field]])) as Pick<Room, K>),
  );
}
