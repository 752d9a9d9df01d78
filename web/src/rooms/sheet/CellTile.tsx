import clsx from "clsx";
import { Pin, PinOff } from "lucide-react";
import type { TrialCell } from "../../api/client";
import { clearanceOf, pairNamed, worstPair } from "../../recipe/pairs";
import type { Change } from "../../recipe/sheetCells";
import { TEXT } from "./texts";

interface Props {
  cell: TrialCell | undefined;
  name: string;
  /** What of it counts: the visible area (cm2) and whether that holds, waivers and the filter taken into account. */
  area: number;
  holds: boolean;
  left: string | null;
  unseen: boolean;
  change: Change;
  pinned: boolean;
  onPin(): void;
  onOpen(): void;
}

const threeFigures = (area: number) => area.toFixed(area < 10 ? 2 : area < 100 ? 1 : 0);

/** One cell of the sheet: its picture, its clearance, its verdict. */
export function CellTile({ cell, name, area, holds, left, unseen, change, pinned, onPin, onOpen }: Props) {
  const f = cell?.stale ? null : cell?.figures;
  const said = !f
    ? cell?.stale
      ? TEXT.notMeasuredSinceThe
      : TEXT.notMeasured
    : holds
      ? left
        ? TEXT.leftAsItIs(left)
        : unseen
          ? TEXT.showsWhereNoShot
          : "holds"
      : TEXT.showsThroughSquareCentimetres(area.toFixed(2));
  const worst = worstPair(f);
  return (
    <div className="group relative">
      <button
        type="button"
        onClick={onOpen}
        title={worst && `${clearanceOf(worst)}, ${pairNamed(worst)}`}
        aria-label={`${name}: ${said}${change && change !== "same" ? TEXT.thanBefore(change) : ""}`}
        className={clsx(
          "flex w-full cursor-pointer flex-col items-stretch rounded-[3px] border bg-card hover:border-heron",
          f && !holds ? "border-coral" : f ? "border-rule" : "border-dashed border-rule",
        )}
      >
        <span className="flex h-[140px] items-center justify-center">
          {cell?.picture ? (
            <img
              src={`/api/pictures/${cell.picture}.png`}
              alt=""
              loading="lazy"
              className={clsx("h-[136px]", cell.stale && "opacity-40")}
            />
          ) : (
            <span className="px-2 text-center text-[11.5px] text-soft">{cell?.error ?? "waiting"}</span>
          )}
        </span>
        {cell?.stale && (
          <span
            title={TEXT.notMeasuredSinceTheLast}
            className="border-t border-dashed border-rule px-1 py-0.5 text-center text-[11px] text-soft"
          >
            {TEXT.changedSince}
          </span>
        )}
        {f && (
          <span
            className={clsx(
              "flex justify-between gap-0.5 whitespace-nowrap border-t border-dashed border-rule px-1 py-0.5 text-[11px] tracking-tight",
              !holds ? "text-coral" : left || unseen ? "text-soft" : "text-moss",
            )}
          >
            <span>{TEXT.mm(f.clearance_mm.toFixed(1).replace("-", "−"))}</span>
            <span>{holds ? (left ? "left" : unseen ? "unseen" : "holds") : `${threeFigures(area)} cm²`}</span>
          </span>
        )}
      </button>
      {change && change !== "same" && (
        <span
          className={clsx(
            "absolute top-1 left-1 rounded-[3px] px-1 text-[11px]",
            change === "better" ? "bg-moss text-card" : "bg-ink text-card",
          )}
        >
          {change}
        </span>
      )}
      <button
        type="button"
        aria-label={pinned ? TEXT.takeThePinOut(name) : TEXT.pin(name)}
        title={pinned ? TEXT.takeThePinOut2 : TEXT.pinThisCellMatters}
        onClick={onPin}
        className={clsx(
          "absolute top-1 right-1 cursor-pointer rounded-[3px] bg-card/80 p-1",
          pinned ? "text-heron" : "text-soft opacity-0 group-focus-within:opacity-100 group-hover:opacity-100",
        )}
      >
        {pinned ? <Pin size={13} /> : <PinOff size={13} />}
      </button>
    </div>
  );
}
