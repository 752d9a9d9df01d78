import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { f32, i16, i32, item } from "../recipe/at";
import { api, type Piece, type Problem, type Recipe } from "./client";
import { useServerChange } from "./hooks";
import type { components } from "./schema";
import { type Frame, fetchFrame } from "./wire/frames";
import { LiveSocket } from "./wire/live";

export type Landmark = components["schemas"]["LandmarkOut"];
export type Part = components["schemas"]["LoosePartOut"];
export interface Adjuster {
  name: string;
  label: string;
  group: string;
  more: string;
  less: string;
}
export interface Opening {
  name: string;
  label: string;
  end: [number, number, number];
  way: [number, number, number];
}
type PlaceAsked = components["schemas"]["PlaceAskedIn"];
export type StepOfKind<K extends string> = Extract<NonNullable<Recipe["steps"]>[number], { kind?: K }>;

const STEP = 1e-5;

/** A placement proposed, dropped or snapped; the caller keeps it. */
export function useAskPlace() {
  return useServerChange(
    async ({ piece, ...asked }: { piece: number } & PlaceAsked) =>
      (await api.POST("/api/pieces/{piece}/place", { params: { path: { piece } }, body: asked })).data,
  );
}

/** The named points of a wearer's skin at rest. */
export function useLandmarks(wearer: number | undefined, enabled: boolean) {
  return useQuery<Landmark[], Problem>({
    queryKey: ["landmarks", wearer],
    enabled: enabled && wearer !== undefined,
    queryFn: async () =>
      (await api.GET("/api/landmarks", { params: { query: { wearer: wearer as number } } })).data as Landmark[],
  });
}

export function useParts(piece: Piece) {
  return useQuery<Part[], Problem>({
    queryKey: ["parts", piece.geometry],
    enabled: !!piece.geometry,
    placeholderData: keepPreviousData,
    queryFn: async () =>
      (await api.GET("/api/pieces/{piece}/parts", { params: { path: { piece: piece.id } } })).data as Part[],
  });
}

export interface Adjusters {
  adjusters: Adjuster[];
  openings: Opening[];
  /** The points (x, y, z) each adjuster at 1 moves, by how many metres. */
  moves: { rows: Int32Array; steps: Int16Array }[];
}

/** The adjusters of a piece as it stands. */
export function useAdjusters(piece: Piece, enabled: boolean) {
  return useQuery<Adjusters, Problem>({
    queryKey: ["adjusters", piece.geometry],
    enabled: enabled && !!piece.geometry,
    structuralSharing: false,
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const frame = await fetchFrame<Omit<Adjusters, "moves">>(`/api/pieces/${piece.id}/adjusters`);
      const rows = frame.array<Int32Array>("delta_rows");
      const steps = frame.array<Int16Array>("delta_steps");
      let start = 0;
      const moves = Array.from(frame.array<Int32Array>("delta_counts"), (count) => {
        const move = {
          rows: rows.subarray(start, start + count),
          steps: steps.subarray(3 * start, 3 * (start + count)),
        };
        start += count;
        return move;
      });
      return { ...frame.notes, moves };
    },
  });
}

/** The points of a piece with adjusters pulled by `by`, from `points`. */
export function pulled(points: Float32Array, found: Adjusters, by: Record<string, number>): Float32Array {
  const out = points.slice();
  found.adjusters.forEach(({ name }, a) => {
    const weight = (by[name] ?? 0) * STEP;
    if (weight === 0) return;
    const { rows, steps } = item(found.moves, a);
    for (let i = 0, k = 0; i < rows.length; i++, k += 3) {
      const at = 3 * i32(rows, i);
      out[at] = f32(out, at) + weight * i16(steps, k);
      out[at + 1] = f32(out, at + 1) + weight * i16(steps, k + 1);
      out[at + 2] = f32(out, at + 2) + weight * i16(steps, k + 2);
    }
  });
  return out;
}

export async function fetchFitPreview(piece: number, step: StepOfKind<"fit">, signal: AbortSignal) {
  const frame = await fetchFrame<{ report: Record<string, unknown> }>(`/api/pieces/${piece}/fit-preview`, {
    method: "POST",
    signal,
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ step }),
  });
  return frame.array<Float32Array>("points");
}

export function useGrow() {
  return useServerChange(
    async (asked: components["schemas"]["GrowIn"]) =>
      (await api.POST("/api/pieces/grow", { body: asked })).data as Piece,
  );
}

export function useGrowable() {
  return useQuery<Record<string, string[]>, Problem>({
    queryKey: ["growable"],
    queryFn: async () => (await api.GET("/api/grow")).data as Record<string, string[]>,
  });
}

export function useFitOutfit() {
  return useServerChange(
    async (asked: components["schemas"]["OutfitFitIn"]) => (await api.POST("/api/outfit/fit", { body: asked })).data,
  );
}

export interface HandNotes {
  seq: number;
  ms?: number;
  ready?: boolean;
  problem?: string;
  stroke?: StepOfKind<"stroke">;
}

export interface HandMessage {
  do: "begin" | "dab" | "end" | "cancel" | "lattice";
  vertex?: number;
  move?: [number, number, number];
  stroke?: Partial<StepOfKind<"stroke">>;
  step?: StepOfKind<"lattice">;
}

/** The live socket of the hand tools: while one message is on its way, a newer dab of a pull replaces the one that waits. */
export class HandSocket {
  private readonly live: LiveSocket<HandNotes>;

  /** `cell` is the cell it is worked on in, as JSON; "" for the rest shape. */
  constructor(piece: number, onFrame: (frame: Frame<HandNotes>) => void, onProblem: (text: string) => void, cell = "") {
    const where = cell && `?cell=${encodeURIComponent(cell)}`;
    this.live = new LiveSocket(`/api/pieces/${piece}/hand${where}`, onFrame, onProblem);
  }

  send(message: HandMessage): void {
    this.live.send({ ...message }, (last) =>
      message.do === "lattice" ? last.do === "lattice" : last.do === message.do && !!message.move && !!last.move,
    );
  }

  close(): void {
    this.live.close();
  }
}
