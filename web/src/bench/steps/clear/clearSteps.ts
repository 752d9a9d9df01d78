import type { Remedy } from "../../../api/clearing";
import { type CellAsked, cellAsked, type Piece, type Production, type Step } from "../../../api/client";
import type { DrapeStep } from "../../../api/drape";
import { useChangeRecipe } from "../../../api/hooks";
import { hangsFor } from "../../../recipe/outfits";
import { fromTheSkin } from "../../../recipe/pairs";
import { withStep, withWork, workOf } from "../../../recipe/recipe";
import type { ClearProps } from "./ClearPanel";

type Bare = Omit<CellAsked, "body">;

/** The recipe knows its body; its cells do not say it again. */
export function bare({ body: _, ...cell }: CellAsked): Bare {
  return cell;
}

/** The addresses of the pieces under and over a piece, each from the innermost out. */
export function around(rail: Piece[], piece: Piece): { over: string[]; outer: string[] } {
  const order = fromTheSkin(rail);
  const at = order.findIndex((p) => p.id === piece.id);
  const sha = (list: Piece[]) => list.flatMap((p) => (p.geometry ? [p.finished ?? p.geometry] : []));
  return { over: sha(order.slice(0, at)), outer: sha(order.slice(at + 1)) };
}

/** Every cell of the sheet that a piece can be worn in. */
export function everyCell(production: Production, piece: Piece): Bare[] {
  const alike = production.cast.filter((w) => hangsFor(piece, w));
  return alike.flatMap((w) => production.poses.map((p) => bare(cellAsked(w.shape, p))));
}

/** Turns a remedy that was tried into the alterations that do it. */
export function useClearSteps({ production, fitting }: ClearProps) {
  const change = useChangeRecipe();
  const apply = (remedy: Remedy, ease: number) => {
    const made = remedy.do as Record<string, unknown>;
    const piece = fitting.rail.find((p) => fitting.names.get(p.id) === made.piece);
    if (!piece) return;
    const here = bare(fitting.asked);
    let recipe = piece.recipe;
    if (made.hide) {
      recipe = withStep(recipe, {
        kind: "hide",
        of: "skin",
        by_hand: false,
        count: 0,
        cells: everyCell(production, piece),
        rings: 2,
        faces: [],
        ...around(fitting.rail, piece),
      });
    } else if (made.drape) {
      const how = made.drape as Omit<DrapeStep, "cell" | "over">;
      recipe = withStep(recipe, { ...how, kind: "drape", cell: here, over: around(fitting.rail, piece).over });
    } else if (made.values) {
      recipe = withStep(recipe, {
        kind: "fix",
        cell: here,
        strokes: [],
        values: made.values as Record<string, number>,
      });
    } else {
      if (made.refine) {
        const finer: Step = { kind: "refine", where: "joints", longest: made.refine as number };
        recipe = withWork(recipe, [...workOf(recipe), finer]);
      }
      recipe = withStep(recipe, {
        kind: "clear",
        cells: [here],
        ease: ease / 1000,
        loose: "falls",
        keep: made.keep as "pose" | "rest",
        way: made.way as "in" | "out" | "skin",
        ...around(fitting.rail, piece),
      });
    }
    change.mutate({ piece, recipe, label: remedy.words.slice(0, 80) });
  };
  return { apply, busy: change.isPending };
}
