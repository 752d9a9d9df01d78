import { X } from "lucide-react";
import type { DrapeStep } from "../../api/drape";
import { useRoom } from "../../state/room";
import { Button, Hint, Slider } from "../../ui/controls";

export type Holding = Required<Pick<DrapeStep, "tacks" | "gathers">>;

/** Tacks hold a spot of the cloth to what wears it, gathers draw a level band in; each is put where the piece is clicked. */
export function HoldCloth({ holding, onChange }: { holding: Holding; onChange(to: Holding): void }) {
  const { picking, set } = useRoom();
  const { tacks, gathers } = holding;
  const pick = (made: (at: number) => Holding) =>
    set({ picking: { kind: "snap", done: ({ rows }) => onChange(made(rows[0])) } });
  return (
    <div className="mt-1">
      <div className="flex items-center gap-2">
        <Hint text="Click the piece: about there it follows the wearer">
          <Button onClick={() => pick((at) => ({ ...holding, tacks: [...tacks, { at, radius: 0.05, value: 1 }] }))}>
            Tack
          </Button>
        </Hint>
        <Hint text="Click the piece: a band at that height is drawn in, like an elastic">
          <Button
            onClick={() => pick((at) => ({ ...holding, gathers: [...gathers, { at, width: 0.04, factor: 0.75 }] }))}
          >
            Gather
          </Button>
        </Hint>
        {picking && <span className="text-soft">Click the piece…</span>}
      </div>
      {tacks.map((tack, i) => (
        <Row
          key={`tack ${i.toString()}`}
          label={`Tack ${i + 1}, about`}
          min={1}
          max={20}
          step={0.5}
          value={tack.radius * 100}
          shown={`${(tack.radius * 100).toFixed(1)} cm`}
          onChange={(v) =>
            onChange({ ...holding, tacks: tacks.map((t, k) => (k === i ? { ...t, radius: v / 100 } : t)) })
          }
          onRemove={() => onChange({ ...holding, tacks: tacks.filter((_, k) => k !== i) })}
        />
      ))}
      {gathers.map((band, i) => (
        <Row
          key={`gather ${i.toString()}`}
          label={`Gather ${i + 1}, drawn in to`}
          min={30}
          max={120}
          step={1}
          value={(band.factor ?? 0.75) * 100}
          shown={`${((band.factor ?? 0.75) * 100).toFixed(0)} %`}
          onChange={(v) =>
            onChange({ ...holding, gathers: gathers.map((g, k) => (k === i ? { ...g, factor: v / 100 } : g)) })
          }
          onRemove={() => onChange({ ...holding, gathers: gathers.filter((_, k) => k !== i) })}
        />
      ))}
    </div>
  );
}

function Row({ onRemove, ...slider }: Parameters<typeof Slider>[0] & { onRemove(): void }) {
  return (
    <div className="flex items-center gap-1">
      <div className="min-w-0 flex-1">
        <Slider {...slider} />
      </div>
      <Button look="quiet" className="px-1" aria-label={`Take ${slider.label.split(",")[0]} out`} onClick={onRemove}>
        <X size={13} />
      </Button>
    </div>
  );
}
