import { memo, type RefObject, useMemo, useState } from "react";
import type { Production } from "../../api/client";
import type { SheetCell } from "../../recipe/sheetCells";
import { Button } from "../../ui/controls";
import { CastRows } from "./CastRows";
import { CellTile } from "./CellTile";
import { TEXT } from "./texts";

export type Order = "cast" | "worst" | "place" | "cause";

interface Props {
  production: Production;
  cells: SheetCell[];
  order: Order;
  onOpen(cell: SheetCell): void;
  onPin(cell: SheetCell): void;
  /** What the sheet is scrolled in. */
  scroller: RefObject<HTMLElement | null>;
}

/** So many cells of a group stand on the page at once, the worst first. */
const STEP = 300;

/** The cells of the sheet: wearers by poses, or in groups; those out of sight are not drawn. */
export const SheetGrid = memo(function SheetGrid({ production, cells, order, onOpen, onPin, scroller }: Props) {
  const [shown, setShown] = useState(STEP);
  const groups = useMemo(() => grouped(cells, order), [cells, order]);
  const tile = (c: SheetCell) => {
    const { key, ...shown } = c;
    return <CellTile key={key} {...shown} onPin={() => onPin(c)} onOpen={() => onOpen(c)} />;
  };
  if (order === "cast") return <CastRows production={production} cells={cells} scroller={scroller} tile={tile} />;
  return groups.map(([name, rows]) => (
    <section key={name} className="mb-4">
      {order !== "worst" && (
        <h3 className="mb-1.5 font-semibold">
          {name} <span className="font-normal text-soft">· {rows.length}</span>
        </h3>
      )}
      <div className="grid grid-cols-[repeat(auto-fill,minmax(110px,150px))] gap-2">
        {rows.slice(0, shown).map((c) => (
          <div key={c.key} className="[contain-intrinsic-size:auto_182px] [content-visibility:auto]">
            {tile(c)}
            <p className="mt-0.5 truncate text-[11.5px] text-soft">{c.name}</p>
          </div>
        ))}
      </div>
      {rows.length > shown && (
        <Button className="mt-2" onClick={() => setShown(shown + STEP)}>
          {TEXT.showMore(rows.length - shown)}
        </Button>
      )}
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
