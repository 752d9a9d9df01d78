import { keepPreviousData, QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRoom } from "../store/room";
import {
  api,
  type Candidate,
  type CellAsked,
  type Figures,
  inProduction,
  type Measure,
  type Piece,
  type Problem,
  problemOf,
  type Recipe,
  type Trial,
} from "./client";
import type { components } from "./schema";
import { sheetTook } from "./wire/events";
import { type Frame, fetchFrame } from "./wire/frames";
import { sent } from "./wire/uploads";

export const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 60_000, refetchOnWindowFocus: false } },
});

/** The newest run of the trial sheet, null while nothing has been measured: a megabyte of figures, and so a query of its own. */
export function useSheet(): Trial | null {
  const sheet = useQuery<Trial | null, Problem>({
    queryKey: ["trial"],
    queryFn: async () => {
      const began = performance.now();
      const { data } = await api.GET("/api/trials/latest");
      sheetTook(performance.now() - began);
      return data ?? null;
    },
  });
  return sheet.data ?? null;
}

export interface CellAnswer {
  figures: Figures;
  frame: Frame<{ figures: Figures }>;
}

/** The cell on the stage, measured by the server with the shape as it stands now. */
export function useCell(asked: CellAsked, worn: string, enabled: boolean, seenBy = "") {
  return useQuery<CellAnswer, Problem>({
    queryKey: ["cell", worn, JSON.stringify(asked), seenBy],
    enabled: enabled && worn !== "",
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    queryFn: async ({ signal }) => {
      await new Promise((done) => setTimeout(done, 120)); // walking through cells measures only where it stops
      if (signal.aborted) throw new DOMException("moved on", "AbortError");
      const frame = await fetchFrame<{ figures: Figures }>(inProduction("/api/cell"), {
        method: "POST",
        signal,
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify(asked),
      });
      return { figures: frame.notes.figures, frame };
    },
  });
}

/** A change sent to the server; a problem is shown, and `concerns` are asked anew however it ended. */
export function useServerChange<T, R>(
  work: (value: T) => Promise<R>,
  concerns: readonly string[] = ["pieces", "trial"],
) {
  const client = useQueryClient();
  const say = useRoom((s) => s.say);
  return useMutation<R, Error, T>({
    mutationFn: work,
    onError: (error) => say({ kind: "problem", text: error.message }),
    onSettled: () => {
      for (const key of concerns) client.invalidateQueries({ queryKey: [key] });
    },
  });
}

export function useChangeRecipe() {
  return useServerChange(async (change: { piece: Piece; recipe: Recipe; label: string }) => {
    const { data } = await api.PUT("/api/pieces/{piece}/recipe", {
      params: { path: { piece: change.piece.id } },
      body: { recipe: change.recipe, label: change.label, based_on: change.piece.edit },
    });
    return data;
  });
}

export function useHistory() {
  const undo = useServerChange((piece: number) =>
    api.POST("/api/pieces/{piece}/undo", { params: { path: { piece } } }),
  );
  const redo = useServerChange((piece: number) =>
    api.POST("/api/pieces/{piece}/redo", { params: { path: { piece } } }),
  );
  return { undo, redo };
}

export function useBringIn() {
  const files = useServerChange(({ chosen, wearer }: { chosen: File[]; wearer: number | null }) =>
    sent<Piece>(wearer === null ? "/api/pieces" : `/api/pieces?wearer=${wearer}`, chosen),
  );
  const practice = useServerChange(
    async (wearer: number | null) =>
      (await api.POST("/api/pieces/practice", { params: { query: wearer === null ? {} : { wearer } } })).data as Piece,
  );
  const several = useServerChange(
    ({ chosen, wearer, atOnce }: { chosen: File[]; wearer: number | null; atOnce: boolean }) =>
      sent<Piece[]>(`/api/pieces/several?at_once=${atOnce}${wearer === null ? "" : `&wearer=${wearer}`}`, chosen),
  );
  return { files, several, practice };
}

/** Runs the steps of a piece that failed once more. */
export function useTryAgain() {
  return useServerChange((piece: number) => api.POST("/api/pieces/{piece}/again", { params: { path: { piece } } }));
}

/** Puts a piece on in one go, as a job. */
export function useDress() {
  return useServerChange((piece: number) => api.POST("/api/pieces/{piece}/dress", { params: { path: { piece } } }));
}

export function useChangePiece() {
  return useServerChange(({ piece, ...body }: { piece: number } & components["schemas"]["PieceChangeIn"]) =>
    api.PATCH("/api/pieces/{piece}", { params: { path: { piece } }, body }),
  );
}

export function useMoveOnRail() {
  return useServerChange((move: { piece: number; outwards: boolean }) =>
    api.POST("/api/pieces/{piece}/move", {
      params: { path: { piece: move.piece } },
      body: { outwards: move.outwards },
    }),
  );
}

export function useTakeOff() {
  return useServerChange((piece: number) => api.DELETE("/api/pieces/{piece}", { params: { path: { piece } } }));
}

export function useSetShape() {
  return useServerChange(
    (change: { wearer: number; shape: Record<string, number> }) =>
      api.PUT("/api/wearers/{wearer}/shape", {
        params: { path: { wearer: change.wearer } },
        body: { shape: change.shape },
      }),
    ["cast", "trial"],
  );
}

export function useDropWearer() {
  return useServerChange(
    (wearer: number) => api.DELETE("/api/wearers/{wearer}", { params: { path: { wearer } } }),
    ["cast", "trial"],
  );
}

export function useShapeHistory() {
  const undo = useServerChange(
    (wearer: number) => api.POST("/api/wearers/{wearer}/undo", { params: { path: { wearer } } }),
    ["cast", "trial"],
  );
  const redo = useServerChange(
    (wearer: number) => api.POST("/api/wearers/{wearer}/redo", { params: { path: { wearer } } }),
    ["cast", "trial"],
  );
  return { undo, redo };
}

export function useTrial() {
  const start = useServerChange(
    async (choice: components["schemas"]["ChoiceIn"] | undefined) =>
      (await api.POST("/api/trials", { body: choice ?? null })).data,
    ["trial"],
  );
  const cancel = useServerChange(
    (trial: number) => api.DELETE("/api/trials/{trial}", { params: { path: { trial } } }),
    ["trial"],
  );
  return { start, cancel };
}

/** Every measure of a wearer, with its tape as it lies in the pose on the stage. */
export function useMeasures(asked: CellAsked, enabled: boolean) {
  return useQuery<Measure[], Problem>({
    queryKey: ["measures", JSON.stringify(asked)],
    enabled,
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    queryFn: async ({ signal }) => {
      await new Promise((done) => setTimeout(done, 80));
      if (signal.aborted) throw new DOMException("moved on", "AbortError");
      return (await api.POST("/api/measures", { body: asked, signal })).data as Measure[];
    },
  });
}

export function useSolve() {
  const say = useRoom((s) => s.say);
  return useMutation({
    mutationFn: async (ask: { asked: Record<string, number>; around: Record<string, number> }) =>
      (await api.POST("/api/measures/solve", { body: ask })).data,
    onError: (error) => say({ kind: "problem", text: error.message }),
  });
}

export function useMeasureSheet() {
  const say = useRoom((s) => s.say);
  return useMutation({
    mutationFn: async (file: File) => {
      const answer = await fetch("/api/measures/sheet", { method: "POST", body: await file.text() });
      if (!answer.ok) throw await problemOf(answer);
      return ((await answer.json()) as { asked: Record<string, number> }).asked;
    },
    onError: (error) => say({ kind: "problem", text: error.message }),
  });
}

/** A piece made on another body, put on this wearer's as a new piece that rides over. */
export function useBringOver() {
  return useServerChange(
    async ({ piece, wearer }: { piece: number; wearer: number }) =>
      (await api.POST("/api/pieces/{piece}/over", { params: { path: { piece } }, body: { wearer } })).data,
  );
}

/** The bodies a piece may have been made for, the likeliest first, with the figures. */
export function useCandidates(piece: Piece) {
  return useQuery<Candidate[], Problem>({
    queryKey: ["made-for", piece.id, piece.edit, piece.status],
    enabled: piece.status === "done",
    queryFn: async () =>
      (await api.GET("/api/pieces/{piece}/made-for", { params: { path: { piece: piece.id } } })).data as Candidate[],
  });
}

/** Textures that did not come with a piece, found again by name. */
export function useRelink() {
  return useServerChange(async ({ piece, files }: { piece: number; files: File[] }) => {
    return sent<{ linked: string[]; missing: string[] }>(`/api/pieces/${piece}/textures`, files);
  });
}
