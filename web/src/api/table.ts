import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Problem } from "./client";
import type { Fabric } from "./drape";
import { useServerChange } from "./hooks";
import type { components } from "./schema";
import type { Frame } from "./wire/frames";
import { LiveSocket } from "./wire/live";
import { sent } from "./wire/uploads";

export type Block = components["schemas"]["BlockOut"];
export type LayoutRow = components["schemas"]["LayoutRowOut"];
export type Laid = components["schemas"]["LayoutOut"];
export type Layout = components["schemas"]["Layout"];
export type Panel = components["schemas"]["Panel"];
export type Corner = components["schemas"]["Corner"];
export type Side = components["schemas"]["Side"];
export type Seam = components["schemas"]["Seam"];
export type PanelWork = components["schemas"]["PanelWorkIn"];
export type Spot = [number, number];

export function useBlocks() {
  return useQuery<Block[], Problem>({
    queryKey: ["blocks"],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () => (await api.GET("/api/table/blocks")).data as Block[],
  });
}

export function useLayouts() {
  return useQuery<LayoutRow[], Problem>({
    queryKey: ["layouts"],
    queryFn: async () => (await api.GET("/api/table/layouts")).data as LayoutRow[],
  });
}

export function useLayout(number: number | null) {
  return useQuery<Laid, Problem>({
    queryKey: ["layout", number],
    enabled: number !== null,
    queryFn: async () =>
      (await api.GET("/api/table/layouts/{number}", { params: { path: { number: number as number } } })).data as Laid,
  });
}

/** What changes a layout: each answers with the layout as it stands then. */
export function useLayoutChanges() {
  const client = useQueryClient();
  const show = (laid: Laid) => {
    client.setQueryData(["layout", laid.id], laid);
    client.invalidateQueries({ queryKey: ["layouts"] });
    return laid;
  };
  const at = (number: number) => ({ params: { path: { number } } });
  return {
    begin: useServerChange(async (body: components["schemas"]["LayoutIn"]) =>
      show((await api.POST("/api/table/layouts", { body })).data as Laid),
    ),
    change: useServerChange(async ({ laid, layout, label }: { laid: Laid; layout: Layout; label: string }) =>
      show(
        (await api.PUT("/api/table/layouts/{number}", { ...at(laid.id), body: { layout, label, based_on: laid.edit } }))
          .data as Laid,
      ),
    ),
    work: useServerChange(async ({ laid, ...body }: { laid: Laid } & PanelWork) =>
      show(
        (
          await api.POST("/api/table/layouts/{number}/panels", {
            ...at(laid.id),
            body: { ...body, based_on: laid.edit },
          })
        ).data as Laid,
      ),
    ),
    grade: useServerChange(async ({ laid, wearer }: { laid: Laid; wearer: number }) =>
      show((await api.POST("/api/table/layouts/{number}/grade", { ...at(laid.id), body: { wearer } })).data as Laid),
    ),
    step: useServerChange(async ({ laid, back }: { laid: Laid; back: boolean }) =>
      show(
        (await api.POST(back ? "/api/table/layouts/{number}/undo" : "/api/table/layouts/{number}/redo", at(laid.id)))
          .data as Laid,
      ),
    ),
    drop: useServerChange(async (laid: Laid) => {
      await api.DELETE("/api/table/layouts/{number}", at(laid.id));
      client.invalidateQueries({ queryKey: ["layouts"] });
    }),
    read: useServerChange(async ({ files, wearer }: { files: File[]; wearer: number }) => {
      return (await sent<Laid[]>(`/api/table/layouts/read?wearer=${wearer}`, files)).map(show);
    }),
  };
}

/** What a frame of sewing tells. */
export interface SewNotes {
  seq: number;
  ready?: boolean;
  problem?: string;
  did?: string;
  kept?: number;
  frames: number;
  of: number;
  vertices: number;
  seam_open: number;
  strain_mean: number;
  strain_99: number;
  ms: number;
  /** The piece on the rail that was sewn from these panels for this wearer. */
  hangs?: string | null;
}

type SewAsk =
  | { do: "begin"; wearer: number; fabric: Fabric | null; size: number; over: boolean }
  | { do: "next" }
  | { do: "keep"; author: string; anew: boolean };

/** The live socket on which a layout is sewn. */
export class SewSocket {
  private readonly live: LiveSocket<SewNotes>;

  constructor(layout: number, onFrame: (frame: Frame<SewNotes>) => void, onProblem: (text: string) => void) {
    this.live = new LiveSocket(`/api/table/layouts/${layout}/sew`, onFrame, onProblem);
  }

  send(ask: SewAsk): void {
    this.live.send({ ...ask });
  }

  close(): void {
    this.live.close();
  }
}
