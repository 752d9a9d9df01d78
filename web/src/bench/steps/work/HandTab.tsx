import type { Step } from "../../../api/client";
import { f32, item } from "../../../recipe/at";
import { workOf } from "../../../recipe/recipe";
import { useRoomOf } from "../../../store/room";
import { Button, Hint, NumberField } from "../../../ui/controls";
import { HandBrush } from "../../HandBrush";
import { TEXT } from "./texts";
import type { WorkProps } from "./WorkPanel";

/** The hand tools and their brush. */
export function HandTab({ piece, mesh, onWork }: WorkProps) {
  const { hand, set } = useRoomOf("hand", "set");
  const work = workOf(piece.recipe);
  const change = (to: Partial<typeof hand>) => set({ hand: { ...hand, ...to } });
  const last = work.at(-1);
  const lattice = last?.kind === "lattice" ? last : null;
  const cells = lattice?.cells ?? [2, 2, 2];
  const round = () => {
    const box = boxOf(mesh?.source.points);
    if (!box) return;
    const step: Step = { kind: "lattice", low: box[0], high: box[1], cells: [2, 3, 2], knots: [] };
    onWork([...work, step], TEXT.lattice);
    change({ tool: null });
  };
  return (
    <div>
      <HandBrush />
      <div className="mt-2 flex items-end gap-1.5 border-t border-dashed border-rule pt-2">
        {lattice ? (
          <>
            {[TEXT.across, TEXT.up, TEXT.deep].map((name, i) => (
              <NumberField
                key={name}
                label={name}
                unit=""
                digits={0}
                value={item(cells, i)}
                onCommit={(v) => {
                  const now = cells.map((c, k) =>
                    k === i ? Math.min(6, Math.max(2, Math.round(v))) : c,
                  ) as typeof lattice.cells;
                  onWork([...work.slice(0, -1), { ...lattice, cells: now, knots: [] }], TEXT.latticeCells);
                }}
              />
            ))}
            <Button onClick={() => onWork(work.slice(0, -1), TEXT.withoutTheLattice)}>{TEXT.remove}</Button>
          </>
        ) : (
          <Hint text={TEXT.knotsRoundThePiece}>
            <Button onClick={round} disabled={!mesh}>
              {TEXT.latticeRoundIt}
            </Button>
          </Hint>
        )}
      </div>
    </div>
  );
}

function boxOf(points: Float32Array | undefined): [[number, number, number], [number, number, number]] | null {
  if (!points?.length) return null;
  const low: [number, number, number] = [9, 9, 9];
  const high: [number, number, number] = [-9, -9, -9];
  for (let i = 0; i < points.length; i++) {
    low[i % 3] = Math.min(item(low, i % 3), f32(points, i) - 0.01);
    high[i % 3] = Math.max(item(high, i % 3), f32(points, i) + 0.01);
  }
  return [low, high];
}
