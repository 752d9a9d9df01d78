import type { Piece, Production } from "../../../api/client";
import type { StepOf } from "../../../recipe/recipe";
import { TEXT } from "./texts";

/** The drapes a piece's recipe holds: where each was kept, in which fabric, after how many frames. */
export function MadeDrapes({
  made,
  piece,
  production,
}: {
  made: StepOf<"drape">[];
  piece: Piece;
  production: Production;
}) {
  if (!made.length) return null;
  const where = (step: StepOf<"drape">) =>
    step.keep === "rest"
      ? TEXT.forGood
      : step.motion
        ? `${step.motion}, frame ${step.until}`
        : (production.poses.find((p) => p.name === step.cell?.pose)?.label ?? step.cell?.pose);
  return (
    <ul className="mt-2 border-t border-dashed border-rule pt-1.5 text-[12px]">
      {made.map((step, i) => (
        <li key={`${step.cell?.pose}${i.toString()}`} className="flex justify-between">
          <span className="text-soft">{where(step)}</span>
          <span>{TEXT.frames2(step.fabric?.name, piece.report.drape?.[i]?.frames ?? step.until ?? 72)}</span>
        </li>
      ))}
    </ul>
  );
}
