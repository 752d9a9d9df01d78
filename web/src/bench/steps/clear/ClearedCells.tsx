import type { ClearedCell, Piece, Production } from "../../../api/client";
import { item } from "../../../recipe/at";
import { TEXT } from "./texts";

const KEPT: Record<string, string> = { pose: TEXT.forThePose, shape: TEXT.forTheShape, rest: TEXT.forGood };

interface Props {
  last: NonNullable<Piece["report"]["clear"]>[number];
  poses: Production["poses"];
}

/** What the last clearing came to: each way it could be kept, then each cell. */
export function ClearedCells({ last, poses }: Props) {
  return (
    <ul className="mt-2 border-t border-dashed border-rule pt-1.5 text-[12px]">
      {last.ways?.map((w, k) => (
        <li key={w.keep} className="flex justify-between gap-2">
          <span className={k === 0 ? "" : "text-soft"}>
            {KEPT[w.keep]}
            {k === 0 ? ", taken" : ""}
          </span>
          <span className="shrink-0 text-soft">{TEXT.cmHereElsewhere(w.here.toFixed(2), w.apart.toFixed(2))}</span>
        </li>
      ))}
      {last.cells.slice(0, 6).map((c: ClearedCell) => (
        <li key={`${c.pose}${JSON.stringify(c.before)}${c.moved}`} className="flex justify-between">
          <span className="text-soft">{poses.find((p) => p.name === c.pose)?.label ?? c.pose}</span>
          <span>
            {c.before && c.after ? `${c.before.area_cm2.toFixed(2)} → ${c.after.area_cm2.toFixed(2)} cm²` : c.why}
            {c.before && !c.kept && c.before.places > 0 ? TEXT.leftItWouldGet : ""}
            {c.stretch && (
              <span className="block text-right text-soft">
                {TEXT.fellStretchedTimes(item(c.stretch, 0).toFixed(1), item(c.stretch, 1).toFixed(1))}
              </span>
            )}
          </span>
        </li>
      ))}
    </ul>
  );
}
