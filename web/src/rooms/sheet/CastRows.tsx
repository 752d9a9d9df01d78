import { useVirtualizer } from "@tanstack/react-virtual";
import type { ReactNode, RefObject } from "react";
import type { Production } from "../../api/client";
import { outfitOf } from "../../recipe/outfits";
import { columnsOf, type SheetCell } from "../../recipe/sheetCells";

/** Of a sheet of more cells only the rows in sight stand on the page: a page of 20,000 tiles takes seconds to lay out. */
const MANY = 600;
/** A row and the gap under it, until it has been measured (px). */
const ROW = 168;
const GAP = 8;

interface Props {
  production: Production;
  cells: SheetCell[];
  /** What the sheet is scrolled in. */
  scroller: RefObject<HTMLElement | null>;
  tile(cell: SheetCell): ReactNode;
}

/** The sheet by its axes: a row for each wearer, a column for each pose. */
export function CastRows({ production, cells, scroller, tile }: Props) {
  const columns = columnsOf(production);
  const { cast } = production;
  const all = cells.length <= MANY;
  const virtual = useVirtualizer({
    count: cast.length,
    enabled: !all,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    gap: GAP,
    overscan: 3,
  });
  const inSight = virtual.getVirtualItems();
  const rows = all ? cast.map((_, index) => ({ index })) : inSight;
  const above = all ? 0 : (inSight[0]?.start ?? 0);
  const below = all ? 0 : virtual.getTotalSize() - (inSight.at(-1)?.end ?? 0);
  return (
    <div className="grid gap-2" style={{ gridTemplateColumns: `84px repeat(${columns.length}, minmax(96px, 150px))` }}>
      <span className="sticky top-0 left-0 z-20 bg-paper" />
      {columns.map((p) => (
        <span key={p.name} className="sticky top-0 z-10 -mt-1 truncate bg-paper pt-1 pb-0.5 text-soft" title={p.label}>
          {p.label}
        </span>
      ))}
      {above > 0 && <div className="col-span-full" style={{ height: above - GAP }} />}
      {rows.map(({ index }) => {
        const w = cast[index];
        if (!w) return null;
        return (
          <div key={w.id} className="contents">
            <span
              ref={all ? undefined : virtual.measureElement}
              data-index={index}
              className="sticky left-0 z-10 flex flex-col justify-center bg-paper pr-1 font-semibold"
            >
              {w.name}
              {production.outfits.length > 1 && (
                <span className="truncate text-[11.5px] font-normal text-soft">{outfitOf(production.outfits, w)}</span>
              )}
            </span>
            {cells.slice(index * columns.length, (index + 1) * columns.length).map((c) => (
              <div key={c.key} className="[contain-intrinsic-size:auto_164px] [content-visibility:auto]">
                {tile(c)}
              </div>
            ))}
          </div>
        );
      })}
      {below > 0 && <div className="col-span-full" style={{ height: below }} />}
    </div>
  );
}
