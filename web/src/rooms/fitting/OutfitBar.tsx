import { Ellipsis } from "lucide-react";
import { useState } from "react";
import type { Production, Wearer } from "../../api/client";
import { useChangeOutfits } from "../../api/production/outfits";
import { outfitOf } from "../../recipe/outfits";
import { useRoomOf } from "../../store/room";
import { Menu } from "../../ui/Menu";
import { NameForm } from "../../ui/NameForm";
import { Select } from "../../ui/Select";
import { TEXT } from "./texts";

type Asks = "begin" | "copy" | "rename";

/** The outfit the wearer has on: changed for another, begun, copied, named, deleted. */
export function OutfitBar({ production, wearer }: { production: Production; wearer: Wearer }) {
  const { begin, rename, drop, putOn } = useChangeOutfits();
  const { beside, set } = useRoomOf("beside", "set");
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
      <Menu
        label={TEXT.outfits}
        className="cursor-pointer p-1 text-soft hover:text-ink"
        acts={[
          ...outfits
            .filter((o) => o.id !== wearer.outfit && o.id !== beside)
            .map((o) => [TEXT.compareWith(o.name), () => set({ beside: o.id })] as const),
          ...(beside === null ? [] : [[TEXT.stopComparing, () => set({ beside: null })] as const]),
          [TEXT.newOutfit, () => setAsks("begin")],
          [TEXT.copyThisOutfit, () => setAsks("copy")],
          [TEXT.renameThisOutfit, () => setAsks("rename")],
          ...unworn.map((o) => [TEXT.deleteOutfit(o.name), () => drop.mutate(o.id)] as const),
        ]}
      >
        <Ellipsis size={16} />
      </Menu>
    </div>
  );
}
