import { PackagePlus } from "lucide-react";
import type { Piece } from "../../../api/client";
import { useColourways, useKeepInStock, useWearColourway } from "../../../api/stock";
import { useRoom } from "../../../store/room";
import { Button } from "../../../ui/controls";
import { Select } from "../../../ui/Select";
import { TEXT } from "./texts";

/** The colourway a piece from stock wears on the rail; a piece from elsewhere can be kept in stock. */
export function WornColourway({ piece }: { piece: Piece }) {
  const found = useColourways(piece.stock ?? 0, piece.stock !== null);
  const wear = useWearColourway();
  const say = useRoom((s) => s.say);
  const keep = useKeepInStock();
  if (piece.stock === null)
    return (
      <Button
        look="quiet"
        className="mt-1 px-0 py-0.5 text-heron"
        disabled={keep.isPending}
        onClick={() =>
          keep.mutate(piece.id, {
            onSuccess: () => say({ kind: "done", text: TEXT.isInStockNow(piece.name) }),
          })
        }
      >
        <PackagePlus size={13} /> {TEXT.keepItInStock}
      </Button>
    );
  if (!found.data?.colourways.length) return null;
  return (
    <label className="mt-1.5 flex items-center justify-between gap-3 border-t border-dashed border-rule pt-1.5">
      <span className="text-soft">{TEXT.colourway}</span>
      <Select
        label={TEXT.colourwayWorn}
        className="min-w-0 text-[13px]"
        value={piece.colourway ?? ""}
        disabled={wear.isPending || piece.status === "waiting"}
        onChoose={(v) => wear.mutate({ piece: piece.id, name: v || null })}
      >
        <option value="">{TEXT.asItCame}</option>
        {found.data.colourways.map((w) => (
          <option key={w.name}>{w.name}</option>
        ))}
      </Select>
    </label>
  );
}
