import { useMutation } from "@tanstack/react-query";
import { api } from "./client";
import type { components } from "./schema";

export type Lassoed = components["schemas"]["LassoOut"];
type Asked = components["schemas"]["LassoIn"];

/** Asks what a line round part of the stage would leave out, and where that would be missed. */
export function useLasso() {
  return useMutation<Lassoed, Error, Asked & { piece: number }>({
    mutationFn: async ({ piece, ...body }) =>
      (await api.POST("/api/pieces/{piece}/lasso", { params: { path: { piece } }, body })).data as Lassoed,
  });
}
