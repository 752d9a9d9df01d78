import type { Figures, Piece, Trial, TrialCell, Wearer } from "../api/client";

export type Pair = Figures["pairs"][number];

/** The cells of a run that are as they were measured, of what each wearer has on: of all others the figures are left out. */
export function freshCells(trial: Trial | null | undefined, cast: Pick<Wearer, "id" | "outfit">[]): TrialCell[] {
  const outfit = trial?.of_outfit ?? null;
  const wears = new Set(cast.filter((w) => outfit === null || w.outfit === outfit).map((w) => w.id));
  return trial?.cells.map((c) => (c.stale || !wears.has(c.wearer) ? { ...c, figures: null } : c)) ?? [];
}

/** The pieces of a rail from the skin out. */
export function fromTheSkin(rail: Piece[]): Piece[] {
  return [...rail].sort((a, b) => a.rail - b.rail);
}

/** What each piece of a rail is called in a cell's figures: the second of the same name is "name 2", none is called like the skin. */
export function layerNames(rail: Pick<Piece, "id" | "name" | "rail">[]): Map<number, string> {
  const taken = new Set(["Skin"]);
  const out = new Map<number, string>();
  for (const piece of [...rail].sort((a, b) => a.rail - b.rail)) {
    let name = piece.name;
    for (let n = 2; taken.has(name); n++) name = `${piece.name} ${n}`;
    taken.add(name);
    out.set(piece.id, name);
  }
  return out;
}

/** How deep the deepest place of a pair is (mm), 0 if nothing shows. */
export function depthOf(pair: Pair): number {
  return Math.max(0, ...pair.places.map((p) => p.depth_mm));
}

/** The pairs in which a layer is the outer one, the worst first: by what shows, then by the least clearance. */
export function pairsOver(figures: Figures | undefined, name: string): Pair[] {
  const mine = figures?.pairs.filter((p) => p.over === name) ?? [];
  return [...mine].sort((a, b) => depthOf(b) - depthOf(a) || a.clearance_mm - b.clearance_mm);
}

/** The layer under a pair and where: "Skin, left toes"; the layer alone where no place is known. */
export function underNamed(pair: Pair): string {
  const place = pair.places[0]?.name ?? pair.at;
  return place && place !== pair.under ? `${pair.under}, ${place}` : pair.under;
}

/** A pair in words: "Felt boots over Skin, left toes". */
export function pairNamed(pair: Pair): string {
  return `${pair.over} over ${underNamed(pair)}`;
}

/** The least clearance of a pair with its unit, negative where something shows. */
export function clearanceOf(pair: Pair): string {
  const depth = depthOf(pair);
  return depth > 0 ? `−${depth.toFixed(1)} mm` : `${pair.clearance_mm.toFixed(1)} mm`;
}

/** The number between two cards: "2.3 mm over Smock", "−9.8 mm over Skin, left toes". */
export function clearanceNamed(pair: Pair): string {
  return `${clearanceOf(pair)} over ${depthOf(pair) > 0 ? underNamed(pair) : pair.under}`;
}

/** The pair that decides a cell: the deepest that shows, else the one with the least clearance. */
export function worstPair(figures: Figures | null | undefined): Pair | undefined {
  return [...(figures?.pairs ?? [])].sort((a, b) => depthOf(b) - depthOf(a) || a.clearance_mm - b.clearance_mm)[0];
}
