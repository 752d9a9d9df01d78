import type { Piece } from "../../../api/client";
import type { DrapeStep, Fabric } from "../../../api/drape";
import { type StepOf, stepOf } from "../../../recipe/recipe";
import { Check } from "../../../ui/Check";
import { Choice } from "../../../ui/Select";
import { TEXT } from "./texts";

export type Along = NonNullable<DrapeStep["along"]>[number];

/** How a piece is held when it falls along: as it last fell, or as the house has it. */
function held(piece: Piece, linen: Fabric, outside: boolean): Along {
  const last = piece.recipe.steps?.filter((s): s is StepOf<"drape"> => s.kind === "drape").at(-1);
  return {
    piece: piece.geometry ?? "",
    outside,
    falls: true,
    fabric: last?.fabric ?? linen,
    held: last?.held ?? 0.04,
    tacks: last?.tacks ?? [],
    gathers: last?.gathers ?? [],
    straps: last?.straps ?? [],
    stiff: last?.stiff ?? [],
    pressure: last?.pressure ?? 0,
    pulls: [],
  };
}

/** What falls along with a piece, and what is worn between the innermost and the outermost of them and stays as it is worn. */
export function withBetween(piece: Piece, rail: Piece[], along: Along[], fabrics: Fabric[]): Along[] {
  const linen = fabrics.find((f) => f.name === "linen");
  const falling = (p: Piece) => p.id === piece.id || along.some((a) => a.piece === p.geometry);
  const ranks = rail.filter(falling).map((p) => p.rail);
  if (!linen || !along.length) return along;
  const inwards = [...rail].sort((a, b) => a.rail - b.rail);
  return inwards.flatMap((p): Along[] => {
    if (p.id === piece.id) return [];
    const mine = along.find((a) => a.piece === p.geometry);
    if (mine) return [mine];
    const between = p.rail > Math.min(...ranks) && p.rail < Math.max(...ranks);
    if (!between || !p.geometry || !stepOf(p.recipe, "bind")) return [];
    return [{ ...held(p, linen, p.rail > piece.rail), falls: false }];
  });
}

interface Props {
  piece: Piece;
  rail: Piece[];
  fabrics: Fabric[];
  along: Along[];
  onChange(along: Along[]): void;
}

/** Which other pieces of the rail fall at the same time, and in what fabric. */
export function FallsAlong({ piece, rail, fabrics, along, onChange }: Props) {
  const others = rail.filter((p) => p.id !== piece.id && p.geometry && stepOf(p.recipe, "bind"));
  const linen = fabrics.find((f) => f.name === "linen");
  if (!others.length || !linen) return null;
  const rank = (a: Along) => rail.find((p) => p.geometry === a.piece)?.rail ?? 0;
  const inwards = (list: Along[]) => [...list].sort((a, b) => rank(a) - rank(b));
  return (
    <fieldset aria-label={TEXT.fallsAlong} className="mt-1.5">
      {others.map((p) => {
        const on = along.find((a) => a.piece === p.geometry);
        return (
          <div key={p.id}>
            <Check
              checked={!!on}
              onChange={(yes) =>
                onChange(
                  yes
                    ? inwards([...along, held(p, linen, p.rail > piece.rail)])
                    : along.filter((a) => a.piece !== p.geometry),
                )
              }
            >
              {TEXT.letFallToo(p.name)}
            </Check>
            {on && (
              <Choice
                word={TEXT.in(p.name)}
                value={on.fabric?.name}
                onChoose={(v) => {
                  const fabric = fabrics.find((f) => f.name === v);
                  if (fabric) onChange(along.map((a) => (a === on ? { ...a, fabric } : a)));
                }}
              >
                {!fabrics.some((f) => f.name === on.fabric?.name) && <option>{on.fabric?.name}</option>}
                {fabrics.map((f) => (
                  <option key={f.name}>{f.name}</option>
                ))}
              </Choice>
            )}
          </div>
        );
      })}
    </fieldset>
  );
}
