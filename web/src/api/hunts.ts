import { useQuery } from "@tanstack/react-query";
import { api, type Problem } from "./client";
import { useServerChange } from "./hooks";
import type { components } from "./schema";

export type Hunt = components["schemas"]["HuntOut"];
export type HuntFound = components["schemas"]["HuntFoundOut"];
type HuntAsked = components["schemas"]["HuntIn"];

/** The newest hunt for failures, and how one is begun and stopped. */
export function useHunt() {
  const hunt = useQuery<Hunt | null, Problem>({
    queryKey: ["hunt"],
    refetchInterval: (query) => (query.state.data?.state === "running" ? 700 : false),
    queryFn: async () => ((await api.GET("/api/hunts/latest")).data ?? null) as Hunt | null,
  });
  const again = { onSuccess: () => void hunt.refetch() };
  const start = useServerChange(
    async (asked: HuntAsked) => (await api.POST("/api/hunts", { body: asked })).data,
    ["cast"],
  );
  const stop = useServerChange(
    async (id: number) => (await api.DELETE("/api/hunts/{hunt}", { params: { path: { hunt: id } } })).data,
    ["cast"],
  );
  const addWearer = useServerChange(
    async (who: { name: string; shape: Record<string, number> }) =>
      (await api.POST("/api/wearers", { body: who })).data,
    ["cast"],
  );
  return {
    hunt: hunt.data ?? null,
    start: (asked: HuntAsked) => start.mutate(asked, again),
    stop: (id: number) => stop.mutate(id, again),
    addWearer,
  };
}

/** Puts motions on the trial sheet and takes them off. */
export function useSheetMotion() {
  return useServerChange(
    async (asked: { motion: string; there: boolean }) => (await api.PUT("/api/motions/sheet", { body: asked })).data,
    ["axis", "trial"],
  );
}

/** Asks what every failing cell of a run comes from. */
export function useCauses() {
  return useServerChange(
    async (trial: number) => (await api.POST("/api/trials/{trial}/causes", { params: { path: { trial } } })).data,
    ["trial"],
  );
}
