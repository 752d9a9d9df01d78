import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRoom } from "../store/room";
import { api, type Piece, type Problem } from "./client";
import type { components } from "./schema";
import { sent } from "./wire/uploads";

export type Stock = components["schemas"]["StockOut"];
export type StockItem = components["schemas"]["StockItemOut"];
export type Shelf = components["schemas"]["ShelfOut"];
export type Bundle = components["schemas"]["BundleOut"];
export type Batch = components["schemas"]["BatchOut"];
export type Card = components["schemas"]["CardIn"];
export type Surface = components["schemas"]["Cloth"];
export type Colourways = components["schemas"]["ColourwaysOut"];
export type Used = components["schemas"]["UsedOut"];

export interface Search {
  q: string;
  category: string | null;
  kind: string | null;
  tag: string | null;
  shelf: number | null;
  fits: number | null;
  used_in: number | null;
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
      const query = Object.fromEntries(Object.entries(search).filter(([, value]) => value !== null));
      return (await api.GET("/api/stock", { params: { query }, signal })).data as Stock;
    },
  });
}

export function useLatestBatch() {
  return useQuery<Batch | null, Problem>({
    queryKey: ["stock", "batch"],
    queryFn: async () => (await api.GET("/api/batches/latest")).data ?? null,
  });
}

export function useColourways(item: number, enabled: boolean) {
  return useQuery<Colourways, Problem>({
    queryKey: ["stock", "colourways", item],
    enabled,
    queryFn: async () =>
      (await api.GET("/api/stock/{item}/colourways", { params: { path: { item } } })).data as Colourways,
  });
}

export function useStockMutation<T, R>(work: (value: T) => Promise<R>) {
  const client = useQueryClient();
  const say = useRoom((s) => s.say);
  return useMutation<R, Error, T>({
    mutationFn: work,
    onError: (error) => say({ kind: "problem", text: error.message }),
    onSettled: () => {
      client.invalidateQueries({ queryKey: ["stock"] });
      client.invalidateQueries({ queryKey: ["pieces"] });
    },
  });
}

/** Files go in as a batch: the rows tell what becomes of each. */
export function useTakeIn() {
  return useStockMutation(({ files, shelf }: { files: File[]; shelf?: number | null }) =>
    sent<Batch>(shelf ? `/api/stock?shelf=${shelf}` : "/api/stock", files),
  );
}

export function useCancelBatch() {
  return useStockMutation((batch: number) => api.POST("/api/batches/{batch}/cancel", { params: { path: { batch } } }));
}

/** What can be done with one item. */
export function useStocking() {
  const at = (item: number) => ({ params: { path: { item } } });
  const write = useStockMutation(({ item, ...body }: { item: number } & Card) =>
    api.PATCH("/api/stock/{item}", { ...at(item), body }),
  );
  const dress = useStockMutation(
    async ({ item, ...body }: { item: number; wearer: number | null; colourway: string | null; at_once: boolean }) =>
      (await api.POST("/api/stock/{item}/dress", { ...at(item), body })).data as Piece,
  );
  const use = useStockMutation(
    async ({ item, wearer }: { item: number; wearer: number | null }) =>
      (await api.POST("/api/stock/{item}/use", { ...at(item), body: { wearer, at_once: false } })).data as Used,
  );
  const retire = useStockMutation((item: number) => api.POST("/api/stock/{item}/retire", at(item)));
  const restore = useStockMutation((item: number) => api.POST("/api/stock/{item}/restore", at(item)));
  const duplicate = useStockMutation((item: number) => api.POST("/api/stock/{item}/duplicate", at(item)));
  const replace = useStockMutation(({ item, files }: { item: number; files: File[] }) =>
    sent<components["schemas"]["ReplacedOut"]>(`/api/stock/${item}/replace`, files),
  );
  const fabric = useStockMutation(({ name, texture }: { name: string; texture: number }) =>
    api.POST("/api/stock/fabrics", { body: { name, texture, colour: [1, 1, 1], roughness: 0.85, metal: 0 } }),
  );
  return { write, dress, use, retire, restore, duplicate, replace, fabric };
}

/** What can be done with many, and with the order they stand in. */
export function useOrdering() {
  const many = useStockMutation((body: Partial<components["schemas"]["ManyIn"]> & { items: number[] }) =>
    api.POST("/api/stock/many", { body: { off_shelf: false, ...body } }),
  );
  const addShelf = useStockMutation((body: { name: string; parent: number | null }) =>
    api.POST("/api/shelves", { body }),
  );
  const changeShelf = useStockMutation(({ number, ...body }: { number: number; name: string; parent: number | null }) =>
    api.PATCH("/api/shelves/{number}", { params: { path: { number } }, body }),
  );
  const dropShelf = useStockMutation((number: number) =>
    api.DELETE("/api/shelves/{number}", { params: { path: { number } } }),
  );
  const bundle = useStockMutation((body: { name: string; items: number[] }) => api.POST("/api/bundles", { body }));
  const dressBundle = useStockMutation(
    async ({ number, ...body }: { number: number; wearer: number | null; at_once: boolean; instead: boolean }) =>
      (
        await api.POST("/api/bundles/{number}/dress", {
          params: { path: { number } },
          body,
        })
      ).data as Piece[],
  );
  const dropBundle = useStockMutation((number: number) =>
    api.DELETE("/api/bundles/{number}", { params: { path: { number } } }),
  );
  return { many, addShelf, changeShelf, dropShelf, bundle, dressBundle, dropBundle };
}

export function useColouring(item: number) {
  const put = useStockMutation(({ name, materials }: { name: string; materials: Record<string, Surface> }) =>
    api.PUT("/api/stock/{item}/colourways/{name}", { params: { path: { item, name } }, body: { materials } }),
  );
  const drop = useStockMutation((name: string) =>
    api.DELETE("/api/stock/{item}/colourways/{name}", { params: { path: { item, name } } }),
  );
  return { put, drop };
}

/** A piece that hangs on the rail, kept in stock as it came. */
export function useKeepInStock() {
  return useStockMutation((piece: number) => api.POST("/api/stock/from-rail/{piece}", { params: { path: { piece } } }));
}

/** Put a piece on the rail in a colourway of its card, or as it came. */
export function useWearColourway() {
  return useStockMutation(({ piece, name }: { piece: number; name: string | null }) =>
    api.POST("/api/pieces/{piece}/colourway", { params: { path: { piece } }, body: { name } }),
  );
}
