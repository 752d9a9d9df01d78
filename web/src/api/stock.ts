import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRoom } from "../state/room";
import { api, artist, type Piece, type Problem, problemOf } from "./client";
import type { components } from "./schema";

export type Stock = components["schemas"]["StockOut"];
export type StockItem = components["schemas"]["StockItemOut"];
export type TakenIn = components["schemas"]["TakenInOut"];
export type Card = components["schemas"]["CardIn"];

export interface Search {
  q: string;
  category: string | null;
  tag: string | null;
  favourites: boolean;
  retired: boolean;
  sort: "newest" | "name" | "size";
  limit: number;
}

export function useStock(search: Search) {
  return useQuery<Stock, Problem>({
    queryKey: ["stock", search],
    placeholderData: keepPreviousData,
    staleTime: 10_000,
    queryFn: async ({ signal }) => {
      const { category, tag, ...rest } = search;
      const query = { ...rest, ...(category && { category }), ...(tag && { tag }) };
      return (await api.GET("/api/stock", { params: { query }, signal })).data as Stock;
    },
  });
}

function useStockMutation<T, R>(work: (value: T) => Promise<R>) {
  const client = useQueryClient();
  const say = useRoom((s) => s.say);
  return useMutation<R, Error, T>({
    mutationFn: work,
    onError: (error) => say({ kind: "problem", text: error.message }),
    onSettled: () => {
      client.invalidateQueries({ queryKey: ["stock"] });
      client.invalidateQueries({ queryKey: ["production"] });
    },
  });
}

export function useStocking() {
  const write = useStockMutation(({ item, ...body }: { item: number } & Card) =>
    api.PATCH("/api/stock/{item}", { params: { path: { item } }, body }),
  );
  const dress = useStockMutation(
    async (item: number) => (await api.POST("/api/stock/{item}/dress", { params: { path: { item } } })).data as Piece,
  );
  const retire = useStockMutation((item: number) =>
    api.POST("/api/stock/{item}/retire", { params: { path: { item } } }),
  );
  const restore = useStockMutation((item: number) =>
    api.POST("/api/stock/{item}/restore", { params: { path: { item } } }),
  );
  const takeIn = useStockMutation(async (files: File[]) => {
    const form = new FormData();
    for (const file of files) form.append("files", file);
    const answer = await fetch("/api/stock", { method: "POST", body: form, headers: { "X-Artist": artist() } });
    if (!answer.ok) throw await problemOf(answer);
    return (await answer.json()) as TakenIn[];
  });
  return { write, dress, retire, restore, takeIn };
}
