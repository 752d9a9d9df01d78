import { Plus, X } from "lucide-react";
import { useState } from "react";
import { type StockItem, type Surface, useColouring, useColourways, useStock } from "../../api/stock";
import { Button, takesFocus } from "../../ui/controls";
import { Select } from "../../ui/Select";
import { START } from "./StockNav";
import { TEXT } from "./texts";

/** Named sets of materials of a piece: each material keeps its own look or takes on a fabric of the stock. */
export function ColourwayList(props: { item: StockItem; worn: string | null; onWear(name: string | null): void }) {
  const { item, worn, onWear } = props;
  const found = useColourways(item.id, item.kind === "piece");
  const { put, drop } = useColouring(item.id);
  const fabrics = useStock({ ...START, kind: "fabric", sort: "name", limit: 200 });
  const [naming, setNaming] = useState(false);
  const own = found.data?.own ?? {};
  const ways = found.data?.colourways ?? [];
  const open = ways.find((w) => w.name === worn);
  const surfaceOf = (fabric: string): Surface | null => {
    const card = fabrics.data?.items.find((f) => f.name === fabric);
    if (!card) return null;
    const content = card.content as { colour: number[]; roughness: number; metal: number; texture?: string };
    return {
      colour: content.colour as [number, number, number],
      roughness: content.roughness,
      metal: content.metal,
      texture: content.texture ?? null,
      fabric,
    };
  };
  const set = (material: string, surface: Surface | null) => {
    if (!open) return;
    const materials = { ...open.materials };
    if (surface) materials[material] = surface;
    else delete materials[material];
    put.mutate({ name: open.name, materials });
  };
  return (
    <section aria-label={TEXT.colourways} className="mt-3 border-t border-dashed border-rule pt-2">
      <h2 className="flex items-center text-[11.5px] text-soft">
        {TEXT.colourways}
        <button
          type="button"
          aria-label={TEXT.newColourway}
          title={TEXT.newColourway}
          className="ml-auto cursor-pointer hover:text-ink"
          onClick={() => setNaming(true)}
        >
          <Plus size={13} />
        </button>
      </h2>
      <div className="mt-1 flex flex-wrap gap-1">
        <Chip on={worn === null} surfaces={Object.values(own)} onClick={() => onWear(null)}>
          {TEXT.asItCame}
        </Chip>
        {ways.map((w) => (
          <Chip
            key={w.name}
            on={worn === w.name}
            surfaces={Object.entries(own).map(([name, surface]) => w.materials[name] ?? surface)}
            onClick={() => onWear(w.name)}
          >
            {w.name}
          </Chip>
        ))}
      </div>
      {naming && (
        <input
          ref={takesFocus}
          aria-label={TEXT.nameOfTheNewColourway}
          placeholder={TEXT.name}
          maxLength={40}
          className="mt-1.5 w-full rounded-[3px] border border-heron bg-card px-1.5 py-0.5"
          onBlur={() => setNaming(false)}
          onKeyDown={(e) => {
            e.stopPropagation();
            const name = e.currentTarget.value.trim();
            if (e.key === "Escape") setNaming(false);
            if (e.key === "Enter" && name)
              put.mutate(
                { name, materials: {} },
                {
                  onSuccess: () => {
                    setNaming(false);
                    onWear(name);
                  },
                },
              );
          }}
        />
      )}
      {open && (
        <div className="mt-1.5">
          {Object.entries(own).map(([material, plain]) => {
            const now = open.materials[material];
            return (
              <div key={material} className="flex items-center gap-1.5 py-0.5">
                <input
                  type="color"
                  aria-label={TEXT.colourOf(material)}
                  className="h-5 w-6 cursor-pointer rounded-[3px] border border-rule bg-card p-0"
                  value={hex((now ?? plain).colour)}
                  onChange={(e) =>
                    set(material, { ...(now ?? plain), colour: linear(e.target.value) as Surface["colour"] })
                  }
                />
                <span className="w-20 truncate text-soft">{material}</span>
                <Select
                  label={TEXT.fabricOf(material)}
                  className="min-w-0 flex-1 text-[12.5px]"
                  value={now?.fabric ?? (now ? "own" : "")}
                  onChoose={(v) => set(material, surfaceOf(v))}
                >
                  <option value="">{TEXT.asItCame}</option>
                  {now && !now.fabric && <option value="own">{TEXT.ownColour}</option>}
                  {fabrics.data?.items.map((f) => (
                    <option key={f.id}>{f.name}</option>
                  ))}
                </Select>
              </div>
            );
          })}
          <Button
            look="quiet"
            className="mt-0.5 px-0 py-0.5"
            onClick={() => drop.mutate(open.name, { onSuccess: () => onWear(null) })}
          >
            <X size={12} /> {TEXT.forget} {open.name}
          </Button>
        </div>
      )}
    </section>
  );
}

function Chip(props: { on: boolean; surfaces: Surface[]; onClick(): void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={props.on}
      onClick={props.onClick}
      className="flex cursor-pointer items-center gap-1.5 rounded-full border border-rule px-2 py-0.5 text-[12px] hover:border-heron aria-pressed:border-heron aria-pressed:font-semibold"
    >
      <span className="flex overflow-hidden rounded-full border border-ink/20">
        {props.surfaces.slice(0, 3).map((s, k) => (
          <span
            // biome-ignore lint/suspicious/noArrayIndexKey: two surfaces may have the same colour
            key={k}
            className="h-3 w-2"
            style={{ background: hex(s.colour) }}
          />
        ))}
      </span>
      {props.children}
    </button>
  );
}

/** Linear colour to the screen's, and back. */
function hex(colour: number[]): string {
  const part = (c: number) => {
    const curved = c <= 0.0031308 ? 12.92 * c : 1.055 * c ** (1 / 2.4) - 0.055;
    return Math.round(255 * Math.min(Math.max(curved, 0), 1))
      .toString(16)
      .padStart(2, "0");
  };
  return `#${colour.slice(0, 3).map(part).join("")}`;
}

function linear(text: string): number[] {
  return [1, 3, 5].map((at) => {
    const c = Number.parseInt(text.slice(at, at + 2), 16) / 255;
    return Number((c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4).toFixed(4));
  });
}
