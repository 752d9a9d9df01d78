import { useQuery } from "@tanstack/react-query";
import { api, type Problem } from "../client";
import { useServerChange } from "../hooks";
import type { components } from "../schema";

export type CopyLine = components["schemas"]["CopyLineOut"];
export type CopyLook = components["schemas"]["CopyLookOut"];

const KEY = "copies";
const at = (copy: number) => ({ params: { path: { copy } } });

/** The working copies of the open production, newest first. */
export function useCopies() {
  return useQuery<CopyLine[], Problem>({
    queryKey: [KEY],
    queryFn: async () => (await api.GET("/api/copies")).data as CopyLine[],
  });
}

/** What stood in a working copy, and what has become of it since. */
export function useCopyLook(copy: number) {
  return useQuery<CopyLook, Problem>({
    queryKey: [KEY, copy],
    queryFn: async () => (await api.GET("/api/copies/{copy}", at(copy))).data as CopyLook,
  });
}

export function useChangeCopies() {
  const keep = useServerChange((name: string) => api.POST("/api/copies", { body: { name } }), [KEY]);
  const drop = useServerChange((copy: number) => api.DELETE("/api/copies/{copy}", at(copy)), [KEY]);
  const goBack = useServerChange((copy: number) => api.POST("/api/copies/{copy}/go-back", at(copy)), [KEY]);
  const takePiece = useServerChange(
    async ({ copy, piece, outfit }: { copy: number; piece: number; outfit: number | null }) =>
      (
        await api.POST("/api/copies/{copy}/pieces/{piece}", {
          params: { path: { copy, piece }, query: outfit === null ? {} : { outfit } },
        })
      ).data,
    [KEY, "pieces"],
  );
  const takeOutfit = useServerChange(
    ({ copy, outfit }: { copy: number; outfit: number }) =>
      api.POST("/api/copies/{copy}/outfits/{outfit}", { params: { path: { copy, outfit } } }),
    [KEY, "outfits", "pieces"],
  );
  return { keep, drop, goBack, takePiece, takeOutfit };
}
