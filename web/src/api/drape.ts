import { useQuery, useQueryClient } from "@tanstack/react-query";
import { i16 } from "../recipe/at";
import { api, type Problem } from "./client";
import { useServerChange } from "./hooks";
import type { components } from "./schema";
import { type Frame, fetchFrame } from "./wire/frames";
import { LiveSocket } from "./wire/live";
import type { StepOfKind } from "./work";

export type Fabric = components["schemas"]["Fabric"];
export type DrapeStep = StepOfKind<"drape">;

/** What a frame of a drape tells: which it is, of how many, what the cloth came to, how the wearer stands. */
export interface DrapeNotes {
  seq: number;
  ready?: boolean;
  problem?: string;
  did?: string;
  kept?: boolean;
  /** Every frame that was played has been kept. */
  kept_all?: boolean;
  /** What a file is to be called. */
  name?: string;
  frame?: number;
  have: number;
  of: number;
  ms?: number;
  vertices: number;
  strain_mean: number;
  strain_99: number;
  speed: number;
  bending_met: number;
  shear_met: number;
  /** How much lower it lies than it is worn, metres. */
  sunk: number;
  rotations?: Record<string, number[]>;
  /** The wearer's shape, while it is on its way from another. */
  shape?: Record<string, number>;
  /** Whether the wearer stands in the pose that was asked for. */
  there: boolean;
}

type Ask =
  | { do: "begin"; step: DrapeStep }
  | { do: "let_go" | "file" }
  | { do: "next"; contact: boolean }
  | { do: "show"; frame: number; contact: boolean }
  | { do: "keep"; frame: number; label: string; author: string }
  | { do: "keep_all"; label: string; author: string }
  | { do: "grab"; vertex: number; to: [number, number, number] };

/** The live socket on which a piece falls; of places to show or to pull to, only the newest counts. */
export class DrapeSocket {
  private readonly live: LiveSocket<DrapeNotes>;

  constructor(piece: number, onFrame: (frame: Frame<DrapeNotes>) => void, onProblem: (text: string) => void) {
    this.live = new LiveSocket(`/api/pieces/${piece}/drape`, onFrame, onProblem);
  }

  send(ask: Ask): void {
    this.live.send({ ...ask }, (last) => last.do === ask.do && (ask.do === "grab" || ask.do === "show"));
  }

  close(): void {
    this.live.close();
  }
}

export function useFabrics() {
  return useQuery<Fabric[], Problem>({
    queryKey: ["fabrics"],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () => (await api.GET("/api/fabrics")).data as Fabric[],
  });
}

/** The studio's own fabrics: kept under a name, and forgotten. */
export function useOwnFabrics() {
  const client = useQueryClient();
  const show = (all: Fabric[] | undefined) => {
    client.setQueryData(["fabrics"], all);
    void client.invalidateQueries({ queryKey: ["own fabrics"] });
  };
  const own = useQuery<Fabric[], Problem>({
    queryKey: ["own fabrics"],
    queryFn: async () => (await api.GET("/api/fabrics/own")).data as Fabric[],
  });
  const keep = useServerChange(async (fabric: Fabric) =>
    show((await api.POST("/api/fabrics/own", { body: fabric })).data as Fabric[]),
  );
  const forget = useServerChange(async (name: string) =>
    show((await api.DELETE("/api/fabrics/own/{name}", { params: { path: { name } } })).data as Fabric[]),
  );
  return { own: own.data ?? [], keep, forget };
}

export type Bake = components["schemas"]["BakeOut"];

export type Fall = components["schemas"]["FallOut"];

/** The whole falls that are kept of a piece. */
export function useFalls(piece: number) {
  const client = useQueryClient();
  const kept = useQuery<Fall[], Problem>({
    queryKey: ["falls", piece],
    queryFn: async () => (await api.GET("/api/pieces/{piece}/falls", { params: { path: { piece } } })).data as Fall[],
  });
  const drop = useServerChange(async (fall: number) => {
    await api.DELETE("/api/falls/{fall}", { params: { path: { fall } } });
    await client.invalidateQueries({ queryKey: ["falls", piece] });
  });
  return { kept: kept.data ?? [], drop };
}

/** The frames of a kept fall, as they came when it was played. */
export async function fetchFall(fall: number): Promise<Frame<DrapeNotes>[]> {
  const whole = await fetchFrame<{ frames: DrapeNotes[]; step: number }>(`/api/falls/${fall}`);
  const pieces = whole.names.filter((n) => n.startsWith("rest:")).map((n) => n.slice(5));
  const { frames, step } = whole.notes;
  return frames.map((told, k) => {
    const at = (name: string) => {
      const rest = whole.array<Float32Array>(`rest:${name}`);
      const moves = whole.array<Int16Array>(`moves:${name}`);
      return rest.map((x, i) => x + step * i16(moves, k * rest.length + i));
    };
    const notes = { ...told, frame: k, have: frames.length, of: frames.length };
    return { notes, names: pieces, has: (name) => pieces.includes(name), array: (name) => at(name) as never };
  });
}

/** The newest bake of a piece, asked again while it is under way. */
export function useBake(piece: number) {
  return useQuery<Bake | null, Problem>({
    queryKey: ["bake", piece],
    refetchInterval: (query) => (query.state.data?.state === "running" ? 1500 : false),
    queryFn: async () =>
      (await api.GET("/api/pieces/{piece}/bake", { params: { path: { piece } } })).data as Bake | null,
  });
}

export function useBaking(piece: number) {
  const client = useQueryClient();
  const show = (bake: Bake) => client.setQueryData(["bake", piece], bake);
  const at = { params: { path: { piece } } };
  return {
    start: useServerChange(async (body: { step: DrapeStep; poses: string[] }) =>
      show(
        (await api.POST("/api/pieces/{piece}/bake", { ...at, body: body as components["schemas"]["BakeIn"] }))
          .data as Bake,
      ),
    ),
    stop: useServerChange(async () => show((await api.POST("/api/pieces/{piece}/bake/stop", at)).data as Bake)),
  };
}

/** A round of a fabric over a stand: how it drapes. */
export function useSwatch(fabric: Fabric | null) {
  return useQuery({
    queryKey: ["swatch", fabric],
    enabled: !!fabric,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () =>
      (await api.POST("/api/fabrics/swatch", { body: fabric as Fabric })).data as components["schemas"]["SwatchOut"],
  });
}
