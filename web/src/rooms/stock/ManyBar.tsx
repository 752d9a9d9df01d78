import { useState } from "react";
import { type Shelf, type StockItem, useOrdering } from "../../api/stock";
import { useRoom } from "../../store/room";
import { Button } from "../../ui/controls";
import { Select } from "../../ui/Select";
import { TEXT } from "./texts";

/** What can be done with all that are chosen. */
export function ManyBar({ items, shelves, onDone }: { items: StockItem[]; shelves: Shelf[]; onDone(): void }) {
  const { many, bundle } = useOrdering();
  const say = useRoom((s) => s.say);
  const [name, setName] = useState("");
  const ids = items.map((i) => i.id);
  const pieces = items.every((i) => i.kind === "piece");
  return (
    <div
      role="toolbar"
      aria-label={TEXT.chosen(items.length)}
      className="flex flex-wrap items-center gap-2 border-b border-rule bg-chalk/60 px-5 py-2"
    >
      <span className="font-semibold">{TEXT.chosen(items.length)}</span>
      <Select
        label={TEXT.putThemOnA}
        className="text-[13px]"
        value=""
        onChoose={(v) =>
          many.mutate(v === "none" ? { items: ids, off_shelf: true } : { items: ids, shelf: Number(v) }, {
            onSuccess: onDone,
          })
        }
      >
        <option value="" disabled>
          {TEXT.shelf}
        </option>
        {shelves.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
        <option value="none">{TEXT.noShelf}</option>
      </Select>
      <input
        aria-label={TEXT.aNameTagOr}
        placeholder={TEXT.tagOrBundleName}
        className="w-36 rounded-[3px] border border-rule bg-card px-1.5 py-1 text-[13px]"
        maxLength={40}
        value={name}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <Button
        disabled={!name.trim()}
        onClick={() => many.mutate({ items: ids, tag: name.trim() }, { onSuccess: () => setName("") })}
      >
        {TEXT.tag}
      </Button>
      <Button
        disabled={!name.trim() || !pieces}
        title={pieces ? TEXT.inTheOrderThey : TEXT.onlyPiecesBelongIn}
        onClick={() =>
          bundle.mutate(
            { name: name.trim(), items: ids },
            {
              onSuccess: () => {
                say({ kind: "done", text: TEXT.isABundleOf(name.trim(), ids.length) });
                onDone();
              },
            },
          )
        }
      >
        {TEXT.bundle}
      </Button>
      <Button look="quiet" onClick={() => many.mutate({ items: ids, retired: true }, { onSuccess: onDone })}>
        {TEXT.retire}
      </Button>
      <Button look="quiet" className="ml-auto" onClick={onDone}>
        {TEXT.letGo}
      </Button>
    </div>
  );
}
