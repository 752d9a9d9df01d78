import { type QueryClient, useQuery } from "@tanstack/react-query";
import { AT_FIRST, useRoom } from "../../store/room";
import { goOnTour } from "../../store/tour";
import { api, type Piece, type Problem } from "../client";
import { useServerChange } from "../hooks";
import type { components } from "../schema";
import { sent } from "../wire/uploads";

export type ProductionLine = components["schemas"]["ProductionLineOut"];

const KEY = "productions";

/** Every production of the studio, the one opened last first; those in the bin too. */
export function useProductions() {
  return useQuery<ProductionLine[], Problem>({
    queryKey: [KEY],
    queryFn: async () => (await api.GET("/api/productions")).data as ProductionLine[],
  });
}

/** Whether the demo film can be loaded: the studio has no production yet. */
export function useDemoFilm() {
  return useQuery<{ offered?: boolean }, Problem>({
    queryKey: [KEY, "demo"],
    queryFn: async () => (await api.GET("/api/productions/demo")).data ?? {},
  });
}

const at = (number: number) => ({ params: { path: { number } } });

export function useChangeProductions() {
  const begin = useServerChange(
    async (name: string) => (await api.POST("/api/productions", { body: { name } })).data,
    [KEY],
  );
  const rename = useServerChange(
    ({ id, name }: { id: number; name: string }) =>
      api.PATCH("/api/productions/{number}", { ...at(id), body: { name } }),
    [KEY],
  );
  const duplicate = useServerChange((id: number) => api.POST("/api/productions/{number}/duplicate", at(id)), [KEY]);
  const bin = useServerChange((id: number) => api.POST("/api/productions/{number}/bin", at(id)), [KEY]);
  const restore = useServerChange((id: number) => api.POST("/api/productions/{number}/restore", at(id)), [KEY]);
  const emptyBin = useServerChange(() => api.DELETE("/api/productions/bin"), [KEY]);
  const unpack = useServerChange(
    (file: File) => sent<{ id: number }>("/api/productions/unpack", [file], "file"),
    [KEY],
  );
  const loadDemo = useServerChange(demoLoaded, [KEY, "stock"]);
  const beginWith = useServerChange(begunWith, [KEY]);
  return { begin, beginWith, loadDemo, rename, duplicate, bin, restore, emptyBin, unpack };
}

/** Load the demo film, go in, and begin the tour; the page that asked is gone by then, as the list has a production. */
async function demoLoaded(): Promise<void> {
  const { data } = await api.POST("/api/productions/demo");
  if (!data?.id) return;
  enter(data.id);
  goOnTour();
}

/** Begin a production called after a file, with the piece in it put on its first wearer, and go in. */
async function begunWith(files: File[]): Promise<void> {
  const name = nameOf(files[0]?.name ?? "");
  const { data } = await api.POST("/api/productions", { body: { name } });
  if (!data?.id) return;
  const { set, dressAtOnce } = useRoom.getState();
  set({ ...AT_FIRST, production: data.id });
  const piece = await sent<Piece>("/api/pieces", files).finally(() => set({ place: "fitting" }));
  set({ piece: piece.id, step: dressAtOnce ? null : "receive" });
  if (dressAtOnce) await api.POST("/api/pieces/{piece}/dress", { params: { path: { piece: piece.id } } });
}

/** What to call a production by the name of a file. */
export function nameOf(file: string): string {
  const plain = file
    .replace(/\.[^.]*$/, "")
    .replace(/[-_.]+/g, " ")
    .trim();
  return plain ? plain.charAt(0).toUpperCase() + plain.slice(1, 80) : "New production";
}

/** Go into a production: to its Fitting room, with nothing in hand. */
export function enter(id: number): void {
  void api.POST("/api/productions/{number}/open", at(id)).catch(() => undefined); // it is only about the order of the list
  useRoom.getState().set({ ...AT_FIRST, production: id, place: "fitting" });
}

/** Where another production is opened, by a press or by Back, nothing that was read of the one before is shown. */
export function followProduction(client: QueryClient): void {
  useRoom.subscribe((room, before) => {
    if (before.production !== null && room.production !== before.production)
      client.removeQueries({ predicate: (query) => query.queryKey[0] !== KEY });
  });
}
