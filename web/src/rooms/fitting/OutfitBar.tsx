import { Ellipsis } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import type { Production, Wearer } from "../../api/client";
import { useChangeOutfits } from "../../api/outfits";
import { outfitOf } from "../../recipe/outfits";
import { NameForm } from "../../ui/NameForm";
import { Select } from "../../ui/Select";
import { TEXT } from "./texts";

const ITEM = "cursor-pointer rounded-[3px] px-3 py-1.5 outline-none data-[highlighted]:bg-chalk";
type Asks = "begin" | "copy" | "rename";

/** The outfit the wearer has on: changed for another, begun, copied, named, deleted. */
export function OutfitBar({ production, wearer }: { production: Production; wearer: Wearer }) {
  const { begin, rename, drop, putOn } = useChangeOutfits();
  const [asks, setAsks] = useState<Asks | null>(null);
  const { outfits } = production;
  const here = outfitOf(outfits, wearer);
  const unworn = outfits.filter((o) => o.worn_by.length === 0);
  const named = (name: string) => {
    const onSuccess = () => setAsks(null);
    if (asks === "rename") rename.mutate({ outfit: wearer.outfit, name }, { onSuccess });
    else begin.mutate({ name, wearer: wearer.id, ...(asks === "copy" && { like: wearer.outfit }) }, { onSuccess });
  };
  if (asks)
    return (
      <div className="mb-2">
        <NameForm
          key={asks}
          name={asks === "begin" ? "" : asks === "copy" ? TEXT.copyOfOutfit(here) : here}
          act={asks === "rename" ? TEXT.keepName : TEXT.putItOn}
          onName={named}
          onCancel={() => setAsks(null)}
        />
      </div>
    );
  return (
    <div className="mb-2 flex items-center gap-1.5">
      <Select
        label={TEXT.outfitOf(wearer.name)}
        value={wearer.outfit}
        disabled={putOn.isPending}
        className="min-w-0 flex-1"
        onChoose={(outfit) => putOn.mutate({ wearer: wearer.id, outfit: Number(outfit) })}
      >
        {outfits.map((o) => (
          <option key={o.id} value={o.id}>
            {o.name}
          </option>
        ))}
      </Select>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger aria-label={TEXT.outfits} className="cursor-pointer p-1 text-soft hover:text-ink">
          <Ellipsis size={16} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            className="z-40 min-w-48 rounded-[4px] border border-rule bg-card p-1.5 shadow-lg"
          >
            <DropdownMenu.Item className={ITEM} onSelect={() => setAsks("begin")}>
              {TEXT.newOutfit}
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={() => setAsks("copy")}>
              {TEXT.copyThisOutfit}
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={() => setAsks("rename")}>
              {TEXT.renameThisOutfit}
            </DropdownMenu.Item>
            {unworn.map((o) => (
              <DropdownMenu.Item key={o.id} className={ITEM} onSelect={() => drop.mutate(o.id)}>
                {TEXT.deleteOutfit(o.name)}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  );
}
