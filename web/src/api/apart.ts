import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRoom } from "../store/room";
import { api, type Problem } from "./client";
import type { components } from "./schema";
import { fetchFrame } from "./wire/frames";
import { sent } from "./wire/uploads";

export type Apart = components["schemas"]["ApartOut"];
export type ApartLine = components["schemas"]["ApartLineOut"];
export type Part = components["schemas"]["PartOut"];
export type Role = components["schemas"]["RoleOut"];
export type Choose = components["schemas"]["ChooseIn"];

export function useAparts() {
  return useQuery<ApartLine[], Problem>({
    queryKey: ["aparts"],
    queryFn: async () => (await api.GET("/api/apart")).data as ApartLine[],
  });
}

export function useApart(apart: number) {
  return useQuery<Apart, Problem>({
    queryKey: ["apart", apart],
    queryFn: async () => (await api.GET("/api/apart/{apart}", { params: { path: { apart } } })).data as Apart,
  });
}

export interface DressedMesh {
  points: Float32Array;
  triangles: Int32Array;
  label: Int32Array;
}

/** The mesh with the part of each face; `label` says which division it is. */
export function useDressedMesh(apart: number, label: string) {
  return useQuery<DressedMesh, Problem>({
    queryKey: ["apart-mesh", apart, label],
    placeholderData: (before) => before,
    structuralSharing: false,
    queryFn: async () => {
      const frame = await fetchFrame(`/api/apart/${apart}/mesh`);
      return { points: frame.array("points"), triangles: frame.array("triangles"), label: frame.array("label") };
    },
  });
}

export function useBringDressed() {
  const client = useQueryClient();
  const say = useRoom((s) => s.say);
  return useMutation<Apart, Error, File[]>({
    mutationFn: async (files) => {
      return sent<Apart>("/api/apart", files);
    },
    onError: (error) => say({ kind: "problem", text: error.message }),
    onSettled: () => client.invalidateQueries({ queryKey: ["aparts"] }),
  });
}

/** Every act on a dressed body answers with how it stands then. */
export function useDividing(apart: number) {
  const client = useQueryClient();
  const say = useRoom((s) => s.say);
  const path = { params: { path: { apart } } };
  const act = useMutation<Apart | undefined, Error, () => Promise<{ data?: Apart }>>({
    mutationFn: async (work) => (await work()).data,
    onError: (error) => say({ kind: "problem", text: error.message }),
    onSuccess: (now) => {
      if (now) client.setQueryData(["apart", apart], now);
      client.invalidateQueries({ queryKey: ["apart-mesh", apart] });
      client.invalidateQueries({ queryKey: ["aparts"] });
    },
  });
  const partPath = (part: number) => ({ params: { path: { apart, part } } });
  return {
    busy: act.isPending,
    assign: (body: components["schemas"]["AssignIn"], then?: () => void) =>
      act.mutate(() => api.POST("/api/apart/{apart}/assign", { ...path, body }), { onSuccess: then }),
    merge: (part: number, into: number) =>
      act.mutate(() => api.POST("/api/apart/{apart}/merge", { ...path, body: { part, into } })),
    change: (part: number, body: components["schemas"]["PartIn"]) =>
      act.mutate(() => api.PATCH("/api/apart/{apart}/parts/{part}", { ...partPath(part), body })),
    roles: (body: components["schemas"]["RolesIn"]) =>
      act.mutate(() => api.PUT("/api/apart/{apart}/roles", { ...path, body })),
    undo: () => act.mutate(() => api.POST("/api/apart/{apart}/undo", path)),
    redo: () => act.mutate(() => api.POST("/api/apart/{apart}/redo", path)),
    take: () => act.mutate(() => api.POST("/api/apart/{apart}/take", path)),
  };
}

export function useChoosing(apart: number) {
  const say = useRoom((s) => s.say);
  return useMutation<number[], Error, Choose>({
    mutationFn: async (body) =>
      (await api.POST("/api/apart/{apart}/choose", { params: { path: { apart } }, body })).data?.faces ?? [],
    onError: (error) => say({ kind: "problem", text: error.message }),
  });
}
