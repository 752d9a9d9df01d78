import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { useRoom } from "../../store/room";
import { api, type Piece, type Problem, type Production, type Trial } from "../client";
import type { components } from "../schema";
import { sheetTook } from "../wire/events";

/** The parts of a production, each a query of its own: a change of one leaves the others as they are. */
export interface Parts {
  pieces: Piece[];
  cast: components["schemas"]["CastOut"];
  axis: components["schemas"]["AxisOut"];
  shots: Production["shots"];
  outfits: Production["outfits"];
  settings: Production["settings"];
}

const FETCH: { [K in keyof Parts]: () => Promise<Parts[K]> } = {
  pieces: async () => (await api.GET("/api/production/pieces")).data as Parts["pieces"],
  cast: async () => (await api.GET("/api/production/cast")).data as Parts["cast"],
  axis: async () => (await api.GET("/api/production/axis")).data as Parts["axis"],
  shots: async () => (await api.GET("/api/shots")).data as Parts["shots"],
  outfits: async () => (await api.GET("/api/outfits")).data as Parts["outfits"],
  settings: async () => (await api.GET("/api/production/settings")).data as Parts["settings"],
};

const UNTIL_EVENT = { staleTime: Number.POSITIVE_INFINITY }; // events renew it

/** The production as the rooms read it: it comes whole, once, and each part is renewed alone from then on. */
export function useProduction(): { data: Production | undefined; error: Problem | null } {
  const client = useQueryClient();
  const whole = useQuery<Production, Problem>({
    queryKey: ["production"],
    ...UNTIL_EVENT,
    queryFn: async () => {
      const found = (await api.GET("/api/production")).data as Production;
      if (useRoom.getState().production === null) useRoom.getState().set({ production: found.id });
      for (const [part, value] of Object.entries(partsOf(found))) client.setQueryData([part], value);
      return found;
    },
  });
  const part = <K extends keyof Parts>(name: K) => ({
    queryKey: [name],
    queryFn: FETCH[name],
    enabled: whole.isSuccess,
    ...UNTIL_EVENT,
  });
  const { data: pieces } = useQuery(part("pieces"));
  const { data: cast } = useQuery(part("cast"));
  const { data: axis } = useQuery(part("axis"));
  const { data: shots } = useQuery(part("shots"));
  const { data: outfits } = useQuery(part("outfits"));
  const { data: settings } = useQuery(part("settings"));
  const data = useMemo(
    () =>
      whole.data && pieces && cast && axis && shots && outfits && settings
        ? { ...whole.data, pieces, ...cast, ...axis, shots, outfits, settings }
        : undefined,
    [whole.data, pieces, cast, axis, shots, outfits, settings],
  );
  return { data, error: whole.error };
}

/** The parts of a production that came whole. */
export function partsOf({ pieces, cast, bodies, poses, motions, shots, outfits, settings }: Production): Parts {
  return { pieces, cast: { cast, bodies }, axis: { poses, motions }, shots, outfits, settings };
}

/** Put one piece that has changed in its place among the others; false if it is not there or has another place on the rail. */
export async function renewPiece(client: QueryClient, id: number): Promise<boolean> {
  const before = client.getQueryData<Piece[]>(["pieces"])?.find((p) => p.id === id);
  if (!before) return false;
  const now = await api.GET("/api/pieces/{piece}", { params: { path: { piece: id } } }).then(
    ({ data }) => data as Piece,
    () => undefined, // taken off meanwhile
  );
  if (now?.rail !== before.rail) return false;
  client.setQueryData<Piece[]>(["pieces"], (all) => all?.map((p) => (p.id === id ? now : p)));
  return true;
}

/** Put cells of the shown run that have been measured since into their places; false if another run is shown. */
export async function renewCells(client: QueryClient, trial: number, cells: string[]): Promise<boolean> {
  if (client.getQueryData<Trial | null>(["trial"])?.id !== trial) return false;
  const began = performance.now();
  const { data } = await api.GET("/api/trials/{trial}/cells", { params: { path: { trial }, query: { of: cells } } });
  if (!data) return false;
  sheetTook(performance.now() - began);
  const fresh = new Map(data.cells.map((c) => [`${c.wearer} ${c.pose}`, c]));
  client.setQueryData<Trial | null>(["trial"], (shown) => {
    if (shown?.id !== trial) return shown;
    const placed = shown.cells.map((c) => fresh.get(`${c.wearer} ${c.pose}`) ?? c);
    return { ...shown, ...data, cells: placed, stale: placed.some((c) => c.stale) };
  });
  return true;
}
