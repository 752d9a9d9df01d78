import { type StepOf, weighOf } from "../../../recipe/recipe";
import { useRoomOf } from "../../../store/room";
import { Button } from "../../../ui/controls";
import type { BindProps } from "./BindPanel";
import { Strokes } from "./BrushTab";
import { TEXT } from "./texts";

type Kind = StepOf<"mend">["kinds"][number];

/** What is wrong with the weights; each is shown on the mesh and mended, one by one or all. */
export function WeightChecks({ piece, mesh, onWeigh }: BindProps) {
  const { weights, set } = useRoomOf("weights", "set");
  const faults = piece.report.bind?.findings ?? [];
  const made = weighOf(piece.recipe);
  const busy = piece.status === "waiting";
  const received = (rows: number[]) => rows.map((r) => mesh?.received?.[r] ?? r);
  const mend = (kinds: Kind[], rows: number[], label: string) =>
    onWeigh([...made, { kind: "mend", kinds, rows: received(rows) } as StepOf<"mend">], label);
  if (!faults.length)
    return (
      <div>
        <p className="text-moss">{TEXT.nothingIsWrongWith}</p>
        <p className="mt-1 text-[11.5px] text-soft">{TEXT.lookedForStraysVertices}</p>
        <Strokes made={made} onWeigh={onWeigh} />
      </div>
    );
  return (
    <div>
      <ul className="flex flex-col gap-2">
        {faults.map((fault) => {
          const here = weights.faults === fault.rows;
          return (
            <li key={fault.kind + fault.joint}>
              <p className="leading-snug">{fault.text}.</p>
              <div className="mt-1 flex gap-2">
                <Button
                  aria-pressed={here}
                  onClick={() =>
                    set({
                      map: "faults",
                      weights: { ...weights, faults: here ? [] : fault.rows, joint: fault.joint || weights.joint },
                    })
                  }
                >
                  {here ? TEXT.hide : TEXT.show}
                </Button>
                <Button
                  disabled={busy}
                  onClick={() => mend([fault.kind as Kind], fault.rows, `${fault.mend}: ${fault.joint}`)}
                >
                  {fault.mend}
                </Button>
              </div>
            </li>
          );
        })}
      </ul>
      {faults.length > 1 && (
        <Button
          look="primary"
          className="mt-2.5"
          disabled={busy}
          onClick={() => mend([...new Set(faults.map((f) => f.kind as Kind))], [], TEXT.mendAllWeights)}
        >
          {TEXT.mendAll}
        </Button>
      )}
      <Strokes made={made} onWeigh={onWeigh} />
    </div>
  );
}
