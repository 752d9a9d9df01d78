import { memo, useMemo } from "react";
import type { Production } from "../../api/client";
import { outfitOf } from "../../recipe/outfits";
import { columnsOf, type SheetCell } from "../../recipe/sheetCells";
import { CellTile } from "./CellTile";
import { TEXT } from "./texts";

export type Order = "cast" | "worst" | "place" | "cause";

interface Props {
  production: Production;
  cells: SheetCell[];
  order: Order;
  onOpen(cell: SheetCell): void;
  onPin(cell: SheetCell): void;
}

/** The cells of the sheet: wearers by poses, or in groups; those out of sight are not drawn. */
export const SheetGrid = memo(function SheetGrid({ production, cells, order, onOpen, onPin }: Props) {
  const columns = columnsOf(production);
  const groups = useMemo(() => grouped(cells, order), [cells, order]);
  const tile = (c: SheetCell) => {
    const { key, ...shown } = c;
    return <CellTile key={key} {...shown} onPin={() => onPin(c)} onOpen={() => onOpen(c)} />;
  };
  if (order === "cast")
    return (
      <div
        className="grid gap-2"
        style={{ gridTemplateColumns: `84px repeat(${columns.length}, minmax(96px, 150px))` }}
      >
        <span className="sticky top-0 left-0 z-20 bg-paper" />
        {columns.map((p) => (
          <span
            key={p.name}
            className="sticky top-0 z-10 -mt-1 truncate bg-paper pt-1 pb-0.5 text-soft"
            title={p.label}
          >
            {p.label}
          </span>
        ))}
        {production.cast.map((w, row) => (
          <div key={w.id} className="contents">
            <span className="sticky left-0 z-10 flex flex-col justify-center bg-paper pr-1 font-semibold">
              {w.name}
              {production.outfits.length > 1 && (
                <span className="truncate text-[11.5px] font-normal text-soft">{outfitOf(production.outfits, w)}</span>
              )}
            </span>
            {cells.slice(row * columns.length, (row + 1) * columns.length).map((c) => (
              <div key={c.key} className="[contain-intrinsic-size:auto_164px] [content-visibility:auto]">
                {tile(c)}
              </div>
            ))}
          </div>
        ))}
      </div>
    );
  return groups.map(([name, rows]) => (
    <section key={name} className="mb-4">
      {order !== "worst" && (
        <h3 className="mb-1.5 font-semibold">
          {name} <span className="font-normal text-soft">· {rows.length}</span>
        </h3>
      )}
      <div className="grid grid-cols-[repeat(auto-fill,minmax(110px,150px))] gap-2">
        {rows.map((c) => (
          <div key={c.key} className="[contain-intrinsic-size:auto_182px] [content-visibility:auto]">
            {tile(c)}
            <p className="mt-0.5 truncate text-[11.5px] text-soft">{c.name}</p>
          </div>
        ))}
      </div>
    </section>
  ));
});

const LAST = [TEXT.notExplainedYet, TEXT.holds, TEXT.notMeasured2];

/** The cells in one group, worst first, pinned ones before all; or in groups by where they show or what that comes from. */
function grouped(cells: SheetCell[], order: Order): [string, SheetCell[]][] {
  const sorted = [...cells].sort((a, b) => Number(b.pinned) - Number(a.pinned) || b.area - a.area);
  if (order === "cast" || order === "worst") return [["all", sorted]];
  const by = new Map<string, SheetCell[]>();
  for (const c of sorted) by.set(c[order], [...(by.get(c[order]) ?? []), c]);
  return [...by].sort(([a], [b]) => LAST.indexOf(a) - LAST.indexOf(b));
}
