import clsx from "clsx";
import { Clapperboard, Heart, Plus, Shirt, X } from "lucide-react";
import { type ReactNode, useState } from "react";
import { useProduction } from "../../api/production/production";
import { type Search, type Shelf, type Stock, useOrdering } from "../../api/stock";
import { takesFocus } from "../../ui/controls";
import { Bundles } from "./Bundles";
import { Dressed } from "./Dressed";
import { Heading } from "./Heading";
import { TEXT } from "./texts";

export const PAGE = 60;
export const START: Search = {
  q: "",
  category: null,
  kind: null,
  tag: null,
  shelf: null,
  fits: null,
  used_in: null,
  favourites: false,
  retired: false,
  sort: "newest",
  limit: PAGE,
};
const KIND: Record<string, string> = {
  piece: TEXT.pieces,
  body: TEXT.bodies,
  pose: TEXT.poses,
  motion: TEXT.motions,
  fabric: TEXT.fabrics,
  texture: TEXT.textures,
  extra: TEXT.extras,
};

interface Props {
  stock: Stock | undefined;
  search: Search;
  onSearch(search: Search): void;
  wearer: number | null;
}

/** What narrows the stock: kinds, whom it fits, one's own shelves, categories, bundles and tags. */
export function StockNav({ stock, search, onSearch, wearer }: Props) {
  const production = useProduction().data;
  const cast = production?.cast ?? [];
  const name = cast.find((w) => w.id === wearer)?.name;
  const only = (next: Partial<Search>) => onSearch({ ...START, q: search.q, sort: search.sort, ...next });
  return (
    <nav
      aria-label={TEXT.shelves}
      className="min-h-0 overflow-y-auto border-r border-rule bg-card/60 px-4 py-4 text-[13px]"
    >
      <Line on={plain(search)} onClick={() => onSearch({ ...START, sort: search.sort })}>
        {TEXT.everything}
      </Line>
      <Line on={search.favourites} onClick={() => only({ favourites: !search.favourites })}>
        <Heart size={12} className="mr-1.5" /> {TEXT.favourites}
      </Line>
      {name && (
        <Line on={search.fits !== null} onClick={() => only({ fits: search.fits === null ? wearer : null })}>
          <Shirt size={12} className="mr-1.5 shrink-0" />{" "}
          <span className="truncate normal-case">{TEXT.fits(name)}</span>
        </Line>
      )}
      {production && (
        <Line
          on={search.used_in !== null}
          onClick={() => only({ used_in: search.used_in === null ? production.id : null })}
        >
          <Clapperboard size={12} className="mr-1.5 shrink-0" />{" "}
          <span className="truncate normal-case">{TEXT.usedIn(production.name)}</span>
        </Line>
      )}
      <Heading>{TEXT.kind}</Heading>
      {stock?.kinds.map((k) => (
        <Line
          key={k.name}
          on={search.kind === k.name}
          count={k.count}
          onClick={() => only({ kind: search.kind === k.name ? null : k.name })}
        >
          {KIND[k.name] ?? k.name}
        </Line>
      ))}
      <ShelfTree shelves={stock?.shelves ?? []} chosen={search.shelf} onChoose={(shelf) => only({ shelf })} />
      <Bundles bundles={stock?.bundles ?? []} production={production} wearer={wearer} />
      <Heading>{TEXT.category}</Heading>
      {stock?.categories.map((c) => (
        <Line
          key={c.name}
          on={search.category === c.name}
          count={c.count}
          onClick={() => only({ category: search.category === c.name ? null : c.name })}
        >
          {c.name}
        </Line>
      ))}
      <Heading>{TEXT.tags}</Heading>
      <div className="mt-1.5 flex flex-wrap gap-1">
        {stock?.tags.map((t) => (
          <button
            key={t.name}
            type="button"
            aria-pressed={search.tag === t.name}
            onClick={() => onSearch({ ...search, tag: search.tag === t.name ? null : t.name })}
            className="cursor-pointer rounded-full border border-rule px-2 py-0.5 text-[12px] hover:border-heron aria-pressed:border-heron aria-pressed:bg-heron aria-pressed:text-card"
          >
            {t.name}
          </button>
        ))}
      </div>
      <Dressed />
      <div className="mt-4 border-t border-dashed border-rule pt-2">
        <Line on={search.retired} onClick={() => only({ retired: !search.retired })}>
          {TEXT.retired}
        </Line>
      </div>
    </nav>
  );
}

function plain({ category, kind, tag, shelf, fits, used_in, favourites, retired }: Search): boolean {
  return !(category || kind || tag || shelf || fits || used_in || favourites || retired);
}

function Line(props: { on: boolean; count?: number; indent?: number; onClick(): void; children: ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={props.on}
      onClick={props.onClick}
      style={{ paddingLeft: props.indent }}
      className={clsx(
        "flex w-full min-w-0 cursor-pointer items-center py-1 text-left capitalize hover:text-heron",
        props.on && "font-semibold text-heron",
      )}
    >
      {props.children}
      {props.count !== undefined && <span className="ml-auto pl-1 font-normal text-soft">{props.count}</span>}
    </button>
  );
}

/** Shelves of one's own filing, one in another. */
function ShelfTree(props: { shelves: Shelf[]; chosen: number | null; onChoose(shelf: number | null): void }) {
  const { shelves, chosen, onChoose } = props;
  const { addShelf, dropShelf } = useOrdering();
  const [naming, setNaming] = useState(false);
  const held = (id: number): number =>
    shelves
      .filter((s) => s.parent === id)
      .reduce((n, s) => n + held(s.id), shelves.find((s) => s.id === id)?.count ?? 0);
  const under = (parent: number | null, depth: number): ReactNode =>
    shelves
      .filter((s) => s.parent === parent)
      .map((s) => (
        <div key={s.id} className="group">
          <span className="flex items-center">
            <Line
              on={chosen === s.id}
              count={held(s.id)}
              indent={depth * 12}
              onClick={() => onChoose(chosen === s.id ? null : s.id)}
            >
              <span className="truncate normal-case">{s.name}</span>
            </Line>
            {chosen === s.id && (
              <button
                type="button"
                aria-label={TEXT.takeDownTheShelf(s.name)}
                title={TEXT.takeThisShelfDown}
                className="ml-1 cursor-pointer text-soft hover:text-ink"
                onClick={() => dropShelf.mutate(s.id, { onSuccess: () => onChoose(null) })}
              >
                <X size={12} />
              </button>
            )}
          </span>
          {under(s.id, depth + 1)}
        </div>
      ));
  return (
    <section aria-label={TEXT.ownShelves}>
      <h2 className="mt-4 flex items-center border-b border-dashed border-rule pb-1 text-[11.5px] text-soft">
        {TEXT.shelves}
        <button
          type="button"
          aria-label={TEXT.newShelf}
          title={chosen ? TEXT.newShelfInThe : TEXT.newShelf}
          className="ml-auto cursor-pointer hover:text-ink"
          onClick={() => setNaming(true)}
        >
          <Plus size={13} />
        </button>
      </h2>
      {under(null, 0)}
      {naming && (
        <input
          ref={takesFocus}
          aria-label={TEXT.nameOfTheNew}
          placeholder={TEXT.name}
          maxLength={60}
          className="mt-1 w-full rounded-[3px] border border-heron bg-card px-1.5 py-0.5"
          onBlur={() => setNaming(false)}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Escape") setNaming(false);
            if (e.key === "Enter" && e.currentTarget.value.trim())
              addShelf.mutate(
                { name: e.currentTarget.value.trim(), parent: chosen },
                { onSuccess: () => setNaming(false) },
              );
          }}
        />
      )}
      {!shelves.length && !naming && <p className="pt-1 text-[11.5px] text-soft">{TEXT.fileThingsYourOwn}</p>}
    </section>
  );
}
