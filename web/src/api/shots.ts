import { api } from "./client";
import { useToldMutation } from "./hooks";
import type { components } from "./schema";
import { sent } from "./wire/uploads";

export type Shot = components["schemas"]["ShotOut"];
type ShotAsked = components["schemas"]["ShotIn"];

const path = (shot: number) => ({ params: { path: { shot } } });

/** The production's shots: how one is kept, changed, dropped and taken back, and how cameras come in from files. */
export function useShots() {
  const add = useToldMutation(async (asked: ShotAsked) => (await api.POST("/api/shots", { body: asked })).data);
  const change = useToldMutation(
    async ({ id, ...body }: ShotAsked & { id: number }) =>
      (await api.PUT("/api/shots/{shot}", { ...path(id), body })).data,
  );
  const drop = useToldMutation(async (id: number) => (await api.DELETE("/api/shots/{shot}", path(id))).data);
  const back = useToldMutation(async (id: number) => (await api.POST("/api/shots/{shot}/back", path(id))).data);
  const bringIn = useToldMutation(async (files: File[]) => {
    return sent<Shot[]>("/api/shots/cameras", files);
  });
  return { add, change, drop, back, bringIn };
}
