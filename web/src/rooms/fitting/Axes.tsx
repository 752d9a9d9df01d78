import clsx from "clsx";
import { Maximize2 } from "lucide-react";
import type { Pose, Production, TrialCell, Wearer } from "../../api/client";
import { useSheet } from "../../api/hooks";
import { outfitOf } from "../../recipe/outfits";
import { freshCells, pairNamed, worstPair } from "../../recipe/pairs";
import { columnsOf } from "../../recipe/sheetCells";
import { useRoom, useRoomOf } from "../../store/room";
import { Mark } from "../../ui/controls";
import { TEXT } from "./texts";

/** The worst cell of a row or column, or none if nothing is measured. */
export function worst(cells: TrialCell[]): { clearance: number; holds: boolean; pair: string } | null {
  const measured = cells.flatMap((c) => (c.figures ? [c.figures] : []));
  if (!measured.length) return null;
  const failing = measured.filter((f) => !f.holds);
  const counted = failing.length ? failing : measured;
  const least = counted.reduce((a, b) => (b.clearance_mm < a.clearance_mm ? b : a));
  const pair = worstPair(least);
  return { clearance: least.clearance_mm, holds: failing.length === 0, pair: pair ? pairNamed(pair) : "" };
}

function version(shape: Record<string, number>): string {
  return Object.entries(shape)
    .map(([k, v]) => `${k}${v.toFixed(3)}`)
    .join("");
}

interface TileProps {
  label: string;
  /** What else is said of it, under its label. */
  note?: string | undefined;
  picture: string;
  tall: number;
  cells: TrialCell[];
  here: boolean;
  className: string;
  edge: string;
  onPick(): void;
}

/** One wearer or pose on its axis, wearing the worst clearance of its row or column. */
function Tile({ label, note, picture, tall, cells, here, className, edge, onPick }: TileProps) {
  const mark = worst(cells);
  return (
    <button
      type="button"
      aria-pressed={here}
      onClick={onPick}
      className={clsx(
        "relative flex cursor-pointer flex-col items-center border-dashed border-rule pb-1.5",
        className,
        here ? `bg-card ${edge}` : "hover:bg-card/60",
      )}
    >
      <img src={picture} alt="" loading="lazy" width={(tall * 6) / 7} height={tall} />
      <span className={clsx("text-[12.5px]", here ? "font-semibold" : "text-soft")}>{label}</span>
      {note && <span className="max-w-full truncate px-1 text-[11px] text-soft">{note}</span>}
      {mark && (
        <span className="absolute top-1.5 right-1.5" title={mark.pair}>
          <Mark clearance={mark.clearance} holds={mark.holds} short />
        </span>
      )}
    </button>
  );
}

export function CastAxis({ production, wearer }: { production: Production; wearer: Wearer | undefined }) {
  const { set } = useRoomOf("set");
  const cells = freshCells(useSheet(), production.cast);
  return (
    <nav aria-label={TEXT.cast} className="min-h-0 overflow-y-auto bg-chalk/50">
      {production.cast.map((w) => (
        <Tile
          key={w.id}
          label={w.name}
          note={production.outfits.length > 1 ? outfitOf(production.outfits, w) : undefined}
          picture={`/api/pictures/wearer/${w.id}.png?v=${version(w.shape)}`}
          tall={84}
          cells={cells.filter((c) => c.wearer === w.id)}
          here={w.id === wearer?.id}
          className="w-full border-b px-1 pt-2"
          edge="shadow-[inset_-3px_0_0_var(--color-heron)]"
          onPick={() => set({ wearer: w.id, live: null })}
        />
      ))}
    </nav>
  );
}

export function PoseAxis({ production, pose }: { production: Production; pose: Pose | undefined }) {
  const { set } = useRoomOf("set");
  const wearer = useRoom((s) => s.wearer) ?? production.cast[0]?.id;
  const shape = production.cast.find((w) => w.id === wearer)?.shape ?? {};
  const cells = freshCells(useSheet(), production.cast);
  return (
    <nav aria-label={TEXT.poses} className="flex min-w-0 overflow-x-auto border-x border-t border-rule bg-chalk/50">
      {production.poses.map((p) => (
        <Tile
          key={p.name}
          label={p.label}
          picture={`/api/pictures/wearer/${wearer}.png?pose=${p.name}&v=${version(shape)}`}
          tall={72}
          cells={cells.filter((c) => c.pose === p.name)}
          here={p.name === pose?.name}
          className="w-[96px] shrink-0 justify-end border-r"
          edge="shadow-[inset_0_3px_0_var(--color-heron)]"
          onPick={() => set({ pose: p.name })}
        />
      ))}
    </nav>
  );
}

/** The whole sheet in miniature; it unfolds. */
export function Corner({ production }: { production: Production }) {
  const { set, sheet } = useRoomOf("set", "sheet");
  const trial = useSheet();
  const columns = columnsOf(production);
  const side = Math.max(3, Math.min(10, Math.floor(108 / columns.length) - 2));
  const known = new Map(freshCells(trial, production.cast).map((c) => [`${c.wearer} ${c.pose}`, c.figures]));
  return (
    <button
      type="button"
      onClick={() => set({ sheet: !sheet })}
      className="flex cursor-pointer flex-col items-center justify-center gap-1.5 border-t border-rule bg-card hover:bg-chalk/40"
    >
      <span
        className="grid gap-[2px]"
        style={{ gridTemplateColumns: `repeat(${columns.length}, ${side}px)` }}
        aria-hidden
      >
        {production.cast.flatMap((w) =>
          columns.map((p) => {
            const f = known.get(`${w.id} ${p.name}`);
            return (
              <span
                key={`${w.id}${p.name}`}
                style={{ width: side, height: Math.max(2, Math.round(0.8 * side)) }}
                className={clsx(!f ? "border border-dashed border-rule" : f.holds ? "bg-moss/50" : "bg-coral")}
              />
            );
          }),
        )}
      </span>
      <span className="flex items-center gap-1 text-[11.5px] text-soft">
        <Maximize2 size={11} /> {sheet ? TEXT.foldSheet : TEXT.unfoldSheet}
      </span>
    </button>
  );
}
