import { X } from "lucide-react";
import { useState } from "react";
import type { DrapeStep } from "../../../api/drape";
import { item } from "../../../recipe/at";
import { useRoomOf } from "../../../store/room";
import { Button, Choice, Hint, Slider } from "../../../ui/controls";
import { Check } from "../bind/WeightsTab";

export type Holding = Required<Pick<DrapeStep, "tacks" | "gathers" | "straps" | "stiff">>;

/** Tacks hold a spot of the cloth to what wears it, gathers draw a level band in, straps keep two spots together, parts are made stiffer;
 * each is put where the piece is clicked. */
export function HoldCloth({ holding, onChange }: { holding: Holding; onChange(to: Holding): void }) {
  const { picking, set } = useRoomOf("picking", "set");
  const { tacks, gathers, straps, stiff } = holding;
  const [first, setFirst] = useState<number | null>(null);
  const pick = (made: (at: number) => Holding) =>
    set({ picking: { kind: "snap", done: ({ rows }) => onChange(made(item(rows, 0))) } });
  const stroke = (made: (at: number, along: number[]) => Holding) =>
    set({
      picking: {
        kind: "ease",
        done: ({ rows }) => onChange(made(item(rows, 0), rows.filter((_, i) => i % 4 === 0).slice(1, 401))),
      },
    });
  const strap = () =>
    set({
      picking: {
        kind: "snap",
        done: ({ rows: [one] }) => {
          if (one === undefined) return;
          setFirst(one);
          set({
            picking: {
              kind: "snap",
              done: ({ rows: [other] }) => {
                if (other === undefined) return;
                setFirst(null);
                onChange({ ...holding, straps: [...straps, { one, other, length: 0 }] });
              },
            },
          });
        },
      },
    });
  return (
    <div className="mt-1">
      <div className="flex flex-wrap items-center gap-2">
        <Hint text="Click the piece or stroke over it: about there it follows the wearer, stays in the air, or goes with what lies under it">
          <Button
            onClick={() =>
              stroke((at, along) => ({
                ...holding,
                tacks: [...tacks, { at, along, radius: 0.05, value: 1, to: "wearer" }],
              }))
            }
          >
            Tack
          </Button>
        </Hint>
        <Hint text="Click the piece: a band at that height is drawn in, by an elastic or a string">
          <Button
            onClick={() =>
              pick((at) => ({ ...holding, gathers: [...gathers, { at, width: 0.04, factor: 0.75, string: false }] }))
            }
          >
            Gather
          </Button>
        </Hint>
        <Hint text="Click two spots to join them: a length makes a strap, 0 cm makes a button">
          <Button onClick={strap}>Strap</Button>
        </Hint>
        <Hint text="Click the piece or stroke over it: about there it is stiffer than its fabric, as a collar is">
          <Button
            onClick={() =>
              stroke((at, along) => ({ ...holding, stiff: [...stiff, { at, along, radius: 0.08, times: 6 }] }))
            }
          >
            Stiffen
          </Button>
        </Hint>
        {picking && (
          <span className="text-soft">
            {picking.kind === "ease"
              ? "Click the piece, or stroke over it…"
              : first === null
                ? "Click the piece…"
                : "Click where the strap goes…"}
          </span>
        )}
      </div>
      {tacks.map((tack, i) => (
        <div key={`tack ${i.toString()}`}>
          <Row
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
          <Slider
            label={`Tack ${i + 1}, how far it follows`}
            min={-1}
            max={1}
            step={0.05}
            value={tack.value}
            shown={tack.value < 0 ? "lets go" : tack.value === 1 ? "fast" : `${Math.round(tack.value * 100)} % a frame`}
            ends={["lets go of what is worn", "fast"]}
            onChange={(v) => onChange({ ...holding, tacks: tacks.map((t, k) => (k === i ? { ...t, value: v } : t)) })}
          />
          <Choice
            label={`Tack ${i + 1} to`}
            value={tack.to ?? "wearer"}
            onChange={(e) =>
              onChange({
                ...holding,
                tacks: tacks.map((t, k) => (k === i ? { ...t, to: e.target.value as typeof t.to } : t)),
              })
            }
          >
            <option value="wearer">the wearer, as it is worn</option>
            <option value="under">what lies under it</option>
            <option value="space">the air, where it is at rest</option>
          </Choice>
        </div>
      ))}
      {gathers.map((band, i) => (
        <div key={`gather ${i.toString()}`}>
          <Row
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
          <Check
            checked={!!band.string}
            onChange={(on) =>
              onChange({ ...holding, gathers: gathers.map((g, k) => (k === i ? { ...g, string: on } : g)) })
            }
          >
            drawn by a string as it falls
          </Check>
        </div>
      ))}
      {straps.map((s, i) => (
        <Row
          key={`strap ${i.toString()}`}
          label={`Strap ${i + 1}, at most`}
          min={0}
          max={100}
          step={1}
          value={(s.length ?? 0) * 100}
          shown={s.length ? `${(s.length * 100).toFixed(0)} cm` : "buttoned"}
          onChange={(v) =>
            onChange({ ...holding, straps: straps.map((t, k) => (k === i ? { ...t, length: v / 100 } : t)) })
          }
          onRemove={() => onChange({ ...holding, straps: straps.filter((_, k) => k !== i) })}
        />
      ))}
      {stiff.map((s, i) => (
        <div key={`stiff ${i.toString()}`}>
          <Row
            label={`Stiff part ${i + 1}, about`}
            min={2}
            max={40}
            step={1}
            value={(s.radius ?? 0.06) * 100}
            shown={`${((s.radius ?? 0.06) * 100).toFixed(0)} cm`}
            onChange={(v) =>
              onChange({ ...holding, stiff: stiff.map((t, k) => (k === i ? { ...t, radius: v / 100 } : t)) })
            }
            onRemove={() => onChange({ ...holding, stiff: stiff.filter((_, k) => k !== i) })}
          />
          <Slider
            label={`Stiff part ${i + 1}, times`}
            min={-3}
            max={6}
            step={0.5}
            value={Math.log2(s.times ?? 6)}
            shown={`× ${(s.times ?? 6).toPrecision(2)}`}
            onChange={(v) =>
              onChange({ ...holding, stiff: stiff.map((t, k) => (k === i ? { ...t, times: 2 ** v } : t)) })
            }
          />
        </div>
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
