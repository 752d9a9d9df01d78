import clsx from "clsx";
import { FolderInput, Search as Glass, Heart } from "lucide-react";
import { useDeferredValue, useState } from "react";
import { type Search, type TakenIn, useStock, useStocking } from "../../api/stock";
import { ACCEPT, droppedFiles } from "../../api/uploads";
import { useRoom } from "../../state/room";
import { Button } from "../../ui/controls";
import { ApartPage } from "../apart/ApartPage";
import { Dressed } from "../apart/Dressed";
import { StockCard } from "./StockCard";
import { StockTile } from "./StockTile";

const PAGE = 60;
const START: Search = {
  q: "",
  category: null,
  tag: null,
  favourites: false,
  retired: false,
  sort: "newest",
  limit: PAGE,
};
const COLOUR: Record<TakenIn["state"], string> = {
  done: "text-moss",
  mended: "text-heron",
  "needs you": "text-amber",
  refused: "text-amber",
};

/** The stockroom: every piece the studio keeps, found as you type; and the page where dressed bodies are taken apart. */
export function StockRoom() {
  const apart = useRoom((s) => s.apart);
  return apart === null ? <Shelves /> : <ApartPage key={apart} apart={apart} />;
}

function Shelves() {
  const [search, setSearch] = useState(START);
  const [chosen, setChosen] = useState<number | null>(null);
  const [over, setOver] = useState(false);
  const [batch, setBatch] = useState<TakenIn[]>([]);
  const stock = useStock(useDeferredValue(search));
  const { takeIn } = useStocking();
  const change = (next: Partial<Search>) => setSearch({ ...search, limit: PAGE, ...next });
  const items = stock.data?.items ?? [];
  const total = stock.data?.total ?? 0;
  const open = items.find((i) => i.id === chosen) ?? items[0];
  const take = (files: File[]) => files.length && takeIn.mutate(files, { onSuccess: setBatch });
  return (
    <main
      className={clsx(
        "grid min-h-0 grid-cols-[176px_minmax(0,1fr)_300px]",
        over && "outline-2 -outline-offset-4 outline-heron outline-dashed",
      )}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        droppedFiles(e.dataTransfer).then(take);
      }}
    >
      <nav
        aria-label="Shelves"
        className="min-h-0 overflow-y-auto border-r border-rule bg-card/60 px-4 py-4 text-[13px]"
      >
        <Shelf on={!search.category && !search.favourites && !search.retired} onClick={() => setSearch(START)}>
          Everything
        </Shelf>
        <Shelf
          on={search.favourites}
          onClick={() => change({ favourites: !search.favourites, retired: false, category: null })}
        >
          Favourites
        </Shelf>
        <h2 className="mt-4 border-b border-dashed border-rule pb-1 text-[11.5px] text-soft">Category</h2>
        {stock.data?.categories.map((c) => (
          <Shelf
            key={c.name}
            on={search.category === c.name}
            count={c.count}
            onClick={() =>
              change({ category: search.category === c.name ? null : c.name, favourites: false, retired: false })
            }
          >
            {c.name}
          </Shelf>
        ))}
        <h2 className="mt-4 border-b border-dashed border-rule pb-1 text-[11.5px] text-soft">Tags</h2>
        <div className="mt-1.5 flex flex-wrap gap-1">
          {stock.data?.tags.map((t) => (
            <button
              key={t.name}
              type="button"
              aria-pressed={search.tag === t.name}
              onClick={() => change({ tag: search.tag === t.name ? null : t.name })}
              className="cursor-pointer rounded-full border border-rule px-2 py-0.5 text-[12px] hover:border-heron aria-pressed:border-heron aria-pressed:bg-heron aria-pressed:text-card"
            >
              {t.name}
            </button>
          ))}
        </div>
        <Dressed />
        <div className="mt-4 border-t border-dashed border-rule pt-2">
          <Shelf
            on={search.retired}
            onClick={() => change({ retired: !search.retired, category: null, favourites: false })}
          >
            Retired
          </Shelf>
        </div>
      </nav>
      <section className="flex min-h-0 flex-col" aria-label="Stock">
        <header className="flex items-center gap-3 border-b border-rule px-5 py-3">
          <label className="flex min-w-0 flex-1 items-center gap-2 rounded-full border border-rule bg-card px-3 py-1.5">
            <Glass size={14} className="text-soft" />
            <input
              aria-label="Search the stock"
              className="w-full min-w-0 bg-transparent text-[13.5px] outline-none"
              placeholder="Name, tag, note, where it came from…"
              value={search.q}
              onChange={(e) => change({ q: e.target.value })}
            />
          </label>
          <select
            aria-label="Order"
            className="rounded-[3px] border border-rule bg-card px-1.5 py-1.5 text-[13px]"
            value={search.sort}
            onChange={(e) => change({ sort: e.target.value as Search["sort"] })}
          >
            <option value="newest">newest first</option>
            <option value="name">by name</option>
            <option value="size">largest first</option>
          </select>
          <label className="inline-flex cursor-pointer items-center gap-1.5 rounded-[3px] border border-heron bg-heron px-3 py-1.5 text-[13px] leading-none text-card focus-within:outline-2 focus-within:outline-heron">
            <FolderInput size={14} /> {takeIn.isPending ? "Looking…" : "Take in"}
            <input
              type="file"
              multiple
              aria-label="Files to take into stock"
              className="sr-only"
              accept={ACCEPT}
              onChange={(e) => {
                take([...(e.target.files ?? [])]);
                e.target.value = "";
              }}
            />
          </label>
        </header>
        {batch.length > 0 && (
          <section aria-label="Taken in" className="border-b border-rule bg-card px-5 py-2.5 text-[13px]">
            <div className="flex items-baseline">
              <h2 className="font-title text-[15px] font-semibold">Taken in</h2>
              <Button look="quiet" className="ml-auto px-0 py-0" onClick={() => setBatch([])}>
                Close
              </Button>
            </div>
            <ul className="max-h-32 overflow-y-auto">
              {batch.map((row) => (
                <li key={row.file} className="flex gap-3 py-0.5">
                  <span className="w-44 shrink-0 truncate">{row.file}</span>
                  <span className={clsx("w-20 shrink-0", COLOUR[row.state])}>{row.state}</span>
                  <span className="text-soft">{row.why || "nothing wrong"}</span>
                </li>
              ))}
            </ul>
          </section>
        )}
        <div className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
          {stock.isError && <p className="text-amber">{stock.error.message}</p>}
          {stock.data && !items.length && (
            <p className="mt-10 text-center text-soft">
              {search.q || search.category || search.tag
                ? "Nothing in stock answers to that. Ask for less, or look among the retired."
                : "The shelves are empty. Drop the files of a piece anywhere in this room to take it in."}
            </p>
          )}
          <div className="grid grid-cols-[repeat(auto-fill,minmax(128px,1fr))] gap-x-3 gap-y-4">
            {items.map((item) => (
              <StockTile key={item.id} item={item} chosen={item.id === open?.id} onChoose={() => setChosen(item.id)} />
            ))}
          </div>
          {items.length < total && (
            <div className="mt-5 text-center">
              <Button onClick={() => setSearch({ ...search, limit: Math.min(search.limit + PAGE, 200) })}>
                {items.length} of {total} · show more
              </Button>
            </div>
          )}
        </div>
      </section>
      <aside className="min-h-0 overflow-y-auto border-l border-rule bg-card px-5 py-4">
        {open ? <StockCard key={open.id} item={open} /> : <p className="text-soft">Choose a piece to read its card.</p>}
      </aside>
    </main>
  );
}

function Shelf(props: { on: boolean; count?: number; onClick(): void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={props.on}
      onClick={props.onClick}
      className={clsx(
        "flex w-full cursor-pointer items-center py-1 text-left capitalize hover:text-heron",
        props.on && "font-semibold text-heron",
      )}
    >
      {props.children === "Favourites" && <Heart size={12} className="mr-1.5" />}
      {props.children}
      {props.count !== undefined && <span className="ml-auto font-normal text-soft">{props.count}</span>}
    </button>
  );
}
