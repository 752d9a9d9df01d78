import { useState } from "react";
import type { DrapeStep } from "../../../api/drape";
import { item } from "../../../recipe/at";
import { useRoomOf } from "../../../store/room";
import { Button, Hint } from "../../../ui/controls";
import { Gathers, StiffParts, Straps, Tacks } from "./HeldRows";
import { TEXT } from "./texts";

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
        <Hint text={TEXT.clickThePieceOr}>
          <Button
            onClick={() =>
              stroke((at, along) => ({
                ...holding,
                tacks: [...tacks, { at, along, radius: 0.05, value: 1, to: "wearer" }],
              }))
            }
          >
            {TEXT.tack}
          </Button>
        </Hint>
        <Hint text={TEXT.clickThePieceA}>
          <Button
            onClick={() =>
              pick((at) => ({ ...holding, gathers: [...gathers, { at, width: 0.04, factor: 0.75, string: false }] }))
            }
          >
            {TEXT.gather}
          </Button>
        </Hint>
        <Hint text={TEXT.clickTwoSpotsTo}>
          <Button onClick={strap}>{TEXT.strap}</Button>
        </Hint>
        <Hint text={TEXT.clickThePieceOrStroke}>
          <Button
            onClick={() =>
              stroke((at, along) => ({ ...holding, stiff: [...stiff, { at, along, radius: 0.08, times: 6 }] }))
            }
          >
            {TEXT.stiffen}
          </Button>
        </Hint>
        {picking && (
          <span className="text-soft">
            {picking.kind === "ease"
              ? TEXT.clickThePieceOrStrokeOver
              : first === null
                ? TEXT.clickThePiece
                : TEXT.clickWhereTheStrap}
          </span>
        )}
      </div>
      <Tacks rows={tacks} onChange={(to) => onChange({ ...holding, tacks: to })} />
      <Gathers rows={gathers} onChange={(to) => onChange({ ...holding, gathers: to })} />
      <Straps rows={straps} onChange={(to) => onChange({ ...holding, straps: to })} />
      <StiffParts rows={stiff} onChange={(to) => onChange({ ...holding, stiff: to })} />
    </div>
  );
}
