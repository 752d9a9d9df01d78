import { Popover } from "radix-ui";
import { useState } from "react";
import type { Production } from "../../api/client";
import { type Column, columnsOf } from "../../recipe/sheetCells";
import { useRoomOf } from "../../store/room";
import { Check } from "../../ui/Check";
import { Button } from "../../ui/controls";
import { Choice } from "../../ui/Select";
import { TEXT } from "./texts";

/** More than so many rows are searched by name. */
const MANY = 12;

/** Which rows and columns of the sheet are measured, and in which outfit. */
export function CellChoice({ production }: { production: Production }) {
  const { choice, set } = useRoomOf("choice", "set");
  const wearers = production.cast.map((w) => ({ name: w.id, label: w.name }));
  const change = (to: Partial<typeof choice>) => set({ choice: { ...choice, ...to } });
  const all = !choice.wearers && !choice.columns && choice.outfit === null;
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button className="px-2 py-1">
          {TEXT.cells} · {all ? TEXT.all : TEXT.chosen}
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label={TEXT.cellsToMeasure}
          className="z-40 w-[420px] rounded-[4px] border border-rule bg-card p-3 text-[13px] shadow-md"
        >
          <p className="mb-2 text-[12px] text-soft">{TEXT.cellsHint}</p>
          {production.outfits.length > 1 && (
            <Choice
              word={TEXT.outfit}
              value={choice.outfit ?? ""}
              onChoose={(v) => change({ outfit: v ? Number(v) : null })}
            >
              <option value="">{TEXT.whatEachHasOn}</option>
              {production.outfits.map((o) => (
                <option key={o.id} value={o.id}>
                  {TEXT.everybodyIn(o.name)}
                </option>
              ))}
            </Choice>
          )}
          <div className="mt-2 grid grid-cols-2 gap-4">
            <Some
              name={TEXT.wearers}
              things={wearers}
              chosen={choice.wearers}
              onChoose={(some) => change({ wearers: some })}
            />
            <Some
              name={TEXT.columns}
              things={columnsOf(production)}
              chosen={choice.columns}
              onChoose={(some) => change({ columns: some })}
            />
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

interface Things<T extends string | number> {
  name: string;
  things: (Pick<Column, "label"> & { name: T })[];
  /** All where there is no list. */
  chosen: T[] | null;
  onChoose(some: T[] | null): void;
}

/** Some of many, ticked by name. */
function Some<T extends string | number>({ name, things, chosen, onChoose }: Things<T>) {
  const [find, setFind] = useState("");
  const on = new Set(chosen ?? things.map((t) => t.name));
  const shown = things.filter((t) => t.label.toLowerCase().includes(find.trim().toLowerCase()));
  const tick = (thing: T, there: boolean) => {
    const now = things.map((t) => t.name).filter((t) => (t === thing ? there : on.has(t)));
    onChoose(now.length === things.length ? null : now);
  };
  return (
    <fieldset className="min-w-0">
      <legend className="flex w-full items-baseline gap-2 font-semibold">
        {name}
        <button
          type="button"
          className="ml-auto cursor-pointer text-[12px] font-normal text-soft hover:text-ink"
          onClick={() => onChoose(chosen ? null : [])}
        >
          {chosen ? TEXT.all : TEXT.noneOfThem}
        </button>
      </legend>
      {things.length > MANY && (
        <input
          aria-label={TEXT.findIn(name)}
          placeholder={TEXT.findIn(name)}
          value={find}
          onChange={(e) => setFind(e.target.value)}
          className="my-1 w-full rounded-[3px] border border-rule bg-card px-2 py-1"
        />
      )}
      <div className="max-h-56 overflow-y-auto">
        {shown.map((t) => (
          <Check
            key={t.name}
            className="py-0.5 [content-visibility:auto] [contain-intrinsic-size:auto_22px]"
            checked={on.has(t.name)}
            onChange={(there) => tick(t.name, there)}
          >
            {t.label}
          </Check>
        ))}
      </div>
    </fieldset>
  );
}
