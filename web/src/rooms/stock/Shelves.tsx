import clsx from "clsx";
import { FolderInput, Search as Glass } from "lucide-react";
import { useDeferredValue, useState } from "react";
import { useProduction } from "../../api/production/production";
import { type Search, useStock, useTakeIn } from "../../api/stock";
import { ACCEPT, droppedFiles } from "../../api/wire/uploads";
import { useRoom } from "../../store/room";
import { Button } from "../../ui/controls";
import { Select } from "../../ui/Select";
import { BatchRows } from "./BatchRows";
import { ManyBar } from "./ManyBar";
import { StockCard } from "./StockCard";
import { PAGE, START, StockNav } from "./StockNav";
import { StockTile } from "./StockTile";
import { TEXT } from "./texts";

/** What is in stock: filters on the left, the shelves, and the card of what is chosen. */
export function Shelves() {
  const [search, setSearch] = useState(START);
  const [chosen, setChosen] = useState<number[]>([]);
  const [over, setOver] = useState(false);
  const [rows, setRows] = useState(false);
  const stock = useStock(useDeferredValue(search));
  const takeIn = useTakeIn();
  const production = useProduction();
  const wearer = useRoom((s) => s.wearer) ?? production.data?.cast[0]?.id ?? null;
  const change = (next: Partial<Search>) => setSearch({ ...search, limit: PAGE, ...next });
  const items = stock.data?.items ?? [];
  const total = stock.data?.total ?? 0;
  const here = items.filter((i) => chosen.includes(i.id));
  const open = here.at(-1) ?? items[0];
  const take = (files: File[]) => {
    if (!files.length) return;
    setRows(true);
    takeIn.mutate({ files, shelf: search.shelf });
  };
  const choose = (id: number, more: boolean) =>
    setChosen(more ? (chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]) : [id]);
  return (
    <main
      className={clsx(
        "grid min-h-0 grid-cols-[188px_minmax(0,1fr)_300px]",
        over && "outline-2 -outline-offset-4 outline-heron outline-dashed",
      )}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        e.stopPropagation();
        setOver(false);
        droppedFiles(e.dataTransfer).then(take);
      }}
    >
      <StockNav stock={stock.data} search={search} onSearch={setSearch} wearer={wearer} />
      <section className="flex min-h-0 flex-col" aria-label={TEXT.stock}>
        <header className="flex items-center gap-3 border-b border-rule px-5 py-3">
          <label className="flex min-w-0 flex-1 items-center gap-2 rounded-full border border-rule bg-card px-3 py-1.5 focus-within:border-heron">
            <Glass size={14} className="text-soft" />
            <input
              aria-label={TEXT.searchTheStock}
              className="bare w-full min-w-0 bg-transparent text-[13.5px]"
              placeholder={TEXT.nameTagNoteWhere}
              value={search.q}
              onChange={(e) => change({ q: e.target.value })}
            />
          </label>
          <Select
            label={TEXT.order}
            className="text-[13px]"
            value={search.sort}
            onChoose={(v) => change({ sort: v as Search["sort"] })}
          >
            <option value="newest">{TEXT.newestFirst}</option>
            <option value="name">{TEXT.byName}</option>
            <option value="size">{TEXT.largestFirst}</option>
          </Select>
          <label className="inline-flex cursor-pointer items-center gap-1.5 rounded-[3px] border border-heron bg-heron px-3 py-1.5 text-[13px] leading-none text-card focus-within:outline-2 focus-within:outline-heron">
            <FolderInput size={14} /> {takeIn.isPending ? TEXT.sending : TEXT.takeIn}
            <input
              type="file"
              multiple
              aria-label={TEXT.filesToTakeInto}
              className="sr-only"
              accept={`${ACCEPT},.bvh`}
              onChange={(e) => {
                take([...(e.target.files ?? [])]);
                e.target.value = "";
              }}
            />
          </label>
        </header>
        {rows && <BatchRows onClose={() => setRows(false)} />}
        {here.length > 1 && <ManyBar items={here} shelves={stock.data?.shelves ?? []} onDone={() => setChosen([])} />}
        <div className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
          {stock.isError && <p className="text-amber">{stock.error.message}</p>}
          {stock.data && !items.length && (
            <p className="mt-10 text-center text-soft">
              {JSON.stringify({ ...search, limit: 0 }) === JSON.stringify({ ...START, limit: 0 })
                ? TEXT.theShelvesAreEmpty
                : TEXT.noMatchTryFewer}
            </p>
          )}
          <div className="grid grid-cols-[repeat(auto-fill,minmax(128px,1fr))] gap-x-3 gap-y-4">
            {items.map((item) => (
              <StockTile
                key={item.id}
                item={item}
                chosen={item.id === open?.id || chosen.includes(item.id)}
                onChoose={(more) => choose(item.id, more)}
              />
            ))}
          </div>
          {items.length < total && (
            <div className="mt-5 text-center">
              <Button onClick={() => setSearch({ ...search, limit: Math.min(search.limit + PAGE, 200) })}>
                {TEXT.ofShowMore(items.length, total)}
              </Button>
            </div>
          )}
        </div>
      </section>
      <aside className="min-h-0 overflow-y-auto border-l border-rule bg-card px-5 py-4">
        {open ? (
          <StockCard key={open.id} item={open} shelves={stock.data?.shelves ?? []} wearer={wearer} />
        ) : (
          <p className="text-soft">{TEXT.chooseSomethingToRead}</p>
        )}
      </aside>
    </main>
  );
}
