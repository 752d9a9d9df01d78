import { useState } from "react";
import { type Fabric, useOwnFabrics } from "../../../api/drape";
import { Button, NumberField } from "../../../ui/controls";
import { Swatches } from "./Swatches";
import { TEXT } from "./texts";

type Figure = Exclude<keyof Fabric, "name">;

const FIGURES: [Figure, string, string, number, number][] = [
  ["weight", TEXT.weight, "g/m²", 1000, 0],
  ["thickness", TEXT.thickness, "mm", 1000, 2],
  ["warp", TEXT.warp, "kN/m", 0.001, 2],
  ["weft", TEXT.weft, "kN/m", 0.001, 2],
  ["shear", TEXT.shear, "N/m", 1, 0],
  ["damping", TEXT.damping, "1/s", 1, 1],
  ["bend_warp", TEXT.bendWarp, "µN m", 1e6, 1],
  ["bend_weft", TEXT.bendWeft, "µN m", 1e6, 1],
  ["friction", TEXT.friction, "", 1, 2],
];

/** A fabric by its figures; changing one makes it a cloth of one's own. */
export function FabricFigures({
  fabric,
  known,
  onChange,
}: {
  fabric: Fabric;
  known: Fabric[];
  onChange(to: Fabric): void;
}) {
  const [open, setOpen] = useState(false);
  const [hung, setHung] = useState(false);
  const own = (figure: Figure, value: number) => {
    const name = known.some((f) => f.name === fabric.name) ? TEXT.altered(fabric.name) : fabric.name;
    onChange({ ...fabric, name, [figure]: value });
  };
  return (
    <div className="mt-1">
      <p className="text-[12px] text-soft">
        {TEXT.gMMmN(
          (fabric.weight * 1000).toFixed(0),
          (fabric.thickness * 1000).toFixed(2),
          (fabric.bend_warp * 1e6).toFixed(0),
        )}
      </p>
      <div className="-my-0.5 flex justify-end text-[12px]">
        <Button look="quiet" className="px-1.5" aria-expanded={hung} onClick={() => setHung(!hung)}>
          {TEXT.swatch}
        </Button>
        <Button look="quiet" className="px-1" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? TEXT.fewer : TEXT.alter}
        </Button>
      </div>
      {hung && <Swatches fabric={fabric} known={known} />}
      {open && (
        <div className="grid grid-cols-2 gap-1.5">
          {FIGURES.map(([figure, label, unit, by, digits]) => (
            <NumberField
              key={figure}
              label={label}
              unit={unit}
              value={(fabric[figure] ?? 0) * by}
              digits={digits}
              onCommit={(v) => own(figure, v / by)}
            />
          ))}
        </div>
      )}
      {open && <KeepFabric key={fabric.name} fabric={fabric} known={known} onChange={onChange} />}
    </div>
  );
}

/** A fabric of one's own is kept for the studio under a name, and can be forgotten. */
function KeepFabric({ fabric, known, onChange }: { fabric: Fabric; known: Fabric[]; onChange(to: Fabric): void }) {
  const { own, keep, forget } = useOwnFabrics();
  const [name, setName] = useState(fabric.name.replace(/, altered$/, " 2"));
  const kept = own.find((f) => f.name === fabric.name);
  const altered = !known.some((f) => f.name === fabric.name);
  if (kept)
    return (
      <p className="mt-1 flex items-baseline text-[12px] text-soft">
        {TEXT.oneOfTheStudios}
        <Button
          look="quiet"
          className="ml-auto px-1"
          onClick={() =>
            forget.mutate(fabric.name, { onSuccess: () => onChange({ ...fabric, name: TEXT.altered(fabric.name) }) })
          }
        >
          {TEXT.forgetIt}
        </Button>
      </p>
    );
  if (!altered) return <p className="mt-1 text-[12px] text-soft">{TEXT.changeAFigureTo}</p>;
  return (
    <form
      className="mt-1.5 flex gap-1.5"
      onSubmit={(e) => {
        e.preventDefault();
        const made = { ...fabric, name: name.trim() };
        keep.mutate(made, { onSuccess: () => onChange(made) });
      }}
    >
      <input
        aria-label={TEXT.nameOfTheFabric}
        className="min-w-0 flex-1 rounded-[3px] border border-rule bg-card px-1.5 py-1"
        value={name}
        maxLength={60}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <Button type="submit" disabled={!name.trim() || keep.isPending}>
        {TEXT.keepIt}
      </Button>
    </form>
  );
}
