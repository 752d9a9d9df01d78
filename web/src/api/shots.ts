import { api } from "./client";
import { useServerChange } from "./hooks";
import type { components } from "./schema";
import { sent } from "./wire/uploads";

export type Shot = components["schemas"]["ShotOut"];
type ShotAsked = components["schemas"]["ShotIn"];

const path = (shot: number) => ({ params: { path: { shot } } });

/** The production's shots: how one is kept, changed, dropped and taken back, and how cameras come in from files. */
export function useShots() {
  const add = useServerChange(
    async (asked: ShotAsked) => (await api.POST("/api/shots", { body: asked })).data,
    ["shots", "trial"],
  );
  const change = useServerChange(
    async ({ id, ...body }: ShotAsked & { id: number }) =>
      (await api.PUT("/api/shots/{shot}", { ...path(id), body })).data,
    ["shots", "trial"],
  );
  const drop = useServerChange(
    async (id: number) => (await api.DELETE("/api/shots/{shot}", path(id))).data,
    ["shots", "trial"],
  );
  const back = useServerChange(
    async (id: number) => (await api.POST("/api/shots/{shot}/back", path(id))).data,
    ["shots", "trial"],
  );
  const bringIn = useServerChange(
    async (files: File[]) => {
      return sent<Shot[]>("/api/shots/cameras", files);
    },
    ["shots", "trial"],
  );
  return { add, change, drop, back, bringIn };
}
