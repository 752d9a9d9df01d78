import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Piece, type Problem } from "./client";
import { useServerChange } from "./hooks";
import type { components } from "./schema";

export type BindJoint = components["schemas"]["BindJointOut"];
export type Bend = components["schemas"]["BendOut"];
export type Wear = components["schemas"]["WearOut"];

/** The joints of a piece's wearer, and how much of the piece each bears. */
export function useBindJoints(piece: Piece) {
  return useQuery<BindJoint[], Problem>({
    queryKey: ["bind joints", piece.id, piece.geometry],
    enabled: !!piece.geometry,
    placeholderData: keepPreviousData,
    queryFn: async () =>
      (await api.GET("/api/pieces/{piece}/joints", { params: { path: { piece: piece.id } } })).data as BindJoint[],
  });
}

/** The bend test of a piece as it stands; `asked` counts how often it was asked for. */
export function useBendTest(piece: Piece, asked: number) {
  return useQuery<Bend[], Problem>({
    queryKey: ["bend test", piece.geometry, asked],
    enabled: asked > 0 && !!piece.geometry,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
    queryFn: async () =>
      (await api.POST("/api/pieces/{piece}/bend-test", { params: { path: { piece: piece.id } } })).data as Bend[],
  });
}

/** The newest run of wearing the outfit on; asked again while it runs. */
export function useWearing(enabled: boolean) {
  return useQuery<Wear | null, Problem>({
    queryKey: ["wear"],
    enabled,
    refetchInterval: (query) => (query.state.data?.state === "running" ? 700 : false),
    queryFn: async () => ((await api.GET("/api/wear")).data ?? null) as Wear | null,
  });
}

export function useWear() {
  const start = useServerChange(
    async (wearers: number[] | null) => (await api.POST("/api/wear", { body: { wearers } })).data as Wear,
  );
  const stop = useServerChange(
    async (run: number) => (await api.DELETE("/api/wear/{run_id}", { params: { path: { run_id: run } } })).data,
  );
  return { start, stop };
}
