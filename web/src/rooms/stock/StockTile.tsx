import clsx from "clsx";
import { Heart } from "lucide-react";
import { useState } from "react";
import type { StockItem } from "../../api/stock";
import { TEXT } from "./texts";

const VIEWS = 8;

/** A piece on its shelf; the pointer passing over it turns it round. */
export function StockTile({
  item,
  chosen,
  onChoose,
}: {
  item: StockItem;
  chosen: boolean;
  onChoose(more: boolean): void;
}) {
  return (
    <button
      type="button"
      aria-pressed={chosen}
      onClick={(e) => onChoose(e.shiftKey || e.ctrlKey || e.metaKey)}
      className={clsx(
        "relative cursor-pointer rounded-[4px] border bg-card pb-2 text-left",
        chosen ? "border-heron" : "border-rule hover:border-soft/60",
      )}
    >
      <Turning strip={item.strip} />
      <span className="block truncate px-2.5 text-[13px] font-semibold">{item.name}</span>
      <span className="block truncate px-2.5 text-[11.5px] text-soft">
        {item.kind === "piece" ? item.category : item.kind}
        {item.findings > 0 && <span className="text-amber">{TEXT.toMend(item.findings)}</span>}
      </span>
      {item.favourite && <Heart size={13} className="absolute top-2 right-2 fill-heron text-heron" aria-hidden />}
    </button>
  );
}

/** Eight views side by side, one shown: which one follows the pointer across the picture. */
export function Turning({ strip, className }: { strip: string | null; className?: string }) {
  const [view, setView] = useState(0);
  return (
    <span
      aria-hidden
      className={clsx("block aspect-square w-full", className)}
      style={{
        backgroundImage: strip ? `url(/api/pictures/${strip}.png)` : undefined,
        backgroundSize: `${VIEWS * 100}% 100%`,
        backgroundPosition: `${(view / (VIEWS - 1)) * 100}% 0`,
      }}
      onPointerMove={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        setView(Math.floor(((e.clientX - box.left) / box.width) * VIEWS) % VIEWS);
      }}
      onPointerLeave={() => setView(0)}
    />
  );
}
