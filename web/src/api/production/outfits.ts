import { api } from "../client";
import { useServerChange } from "../hooks";
import type { components } from "../schema";

const CONCERNS = ["outfits", "cast", "pieces", "trial"];

export function useChangeOutfits() {
  const begin = useServerChange(
    async (asked: components["schemas"]["OutfitIn"]) => (await api.POST("/api/outfits", { body: asked })).data,
    CONCERNS,
  );
  const rename = useServerChange(
    ({ outfit, name }: { outfit: number; name: string }) =>
      api.PATCH("/api/outfits/{outfit}", { params: { path: { outfit } }, body: { name } }),
    CONCERNS,
  );
  const drop = useServerChange(
    (outfit: number) => api.DELETE("/api/outfits/{outfit}", { params: { path: { outfit } } }),
    CONCERNS,
  );
  const putOn = useServerChange(
    ({ wearer, outfit }: { wearer: number; outfit: number }) =>
      api.PUT("/api/wearers/{wearer}/outfit", { params: { path: { wearer } }, body: { outfit } }),
    CONCERNS,
  );
  const copyPiece = useServerChange(
    ({ piece, outfit }: { piece: number; outfit: number }) =>
      api.POST("/api/pieces/{piece}/copy", { params: { path: { piece } }, body: { outfit } }),
    CONCERNS,
  );
  const takeOver = useServerChange((piece: number) =>
    api.POST("/api/pieces/{piece}/take-over", { params: { path: { piece } } }),
  );
  return { begin, rename, drop, putOn, copyPiece, takeOver };
}
