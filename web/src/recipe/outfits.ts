import type { Outfit, Piece, Production, Wearer } from "../api/client";

type Dressable = Pick<Wearer, "outfit" | "body">;

/** Whether a piece hangs on a wearer's rail: in the outfit that is on, and made on that body. */
export function hangsFor(piece: Pick<Piece, "outfit" | "recipe">, who: Dressable | undefined): boolean {
  return !!who && piece.outfit === who.outfit && (piece.recipe.body ?? "") === (who.body ?? "");
}

/** What the outfit that a wearer has on is called. */
export function outfitOf(outfits: Outfit[], who: Dressable): string {
  return outfits.find((o) => o.id === who.outfit)?.name ?? "";
}

/** The production as it is with one wearer in another of its outfits. */
export function dressedIn(production: Production, wearer: number, outfit: number): Production {
  return { ...production, cast: production.cast.map((w) => (w.id === wearer ? { ...w, outfit } : w)) };
}
