import clsx from "clsx";
import { Maximize2 } from "lucide-react";
import { useMemo, useState } from "react";
import type { Pose, Production, TrialCell, Wearer } from "../../api/client";
import { useSheet } from "../../api/hooks";
import { miniature } from "../../recipe/miniature";
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
        "relative flex cursor-pointer flex-col items-center border-dashed border-rule pb-1.5 [content-visibility:auto]",
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

/** More wearers than these are found by name. */
const FEW = 12;
const NONE: TrialCell[] = [];

function grouped<K>(cells: TrialCell[], by: (cell: TrialCell) => K): Map<K, TrialCell[]> {
  const groups = new Map<K, TrialCell[]>();
  for (const cell of cells) {
    const group = groups.get(by(cell));
    if (group) group.push(cell);
    else groups.set(by(cell), [cell]);
  }
  return groups;
}

export function CastAxis({ production, wearer }: { production: Production; wearer: Wearer | undefined }) {
  const { set } = useRoomOf("set");
  const [find, setFind] = useState("");
  const shown = production.cast.filter((w) => w.name.toLowerCase().includes(find.trim().toLowerCase()));
  const sheet = useSheet();
  const rows = useMemo(() => grouped(freshCells(sheet, production.cast), (c) => c.wearer), [sheet, production.cast]);
  return (
    <nav aria-label={TEXT.cast} className="min-h-0 overflow-y-auto bg-chalk/50">
      {production.cast.length > FEW && (
        <input
          aria-label={TEXT.findAWearer}
          placeholder={TEXT.find}
          value={find}
          onChange={(e) => setFind(e.target.value)}
          className="sticky top-0 z-10 w-full border-b border-rule bg-card px-2 py-1.5 text-[12.5px]"
        />
      )}
      {shown.length === 0 && <p className="px-2 py-3 text-soft">{TEXT.nobodyOfThatName}</p>}
      {shown.map((w) => (
        <Tile
          key={w.id}
          label={w.name}
          note={production.outfits.length > 1 ? outfitOf(production.outfits, w) : undefined}
          picture={`/api/pictures/wearer/${w.id}.png?v=${version(w.shape)}`}
          tall={84}
          cells={rows.get(w.id) ?? NONE}
          here={w.id === wearer?.id}
          className="w-full border-b px-1 pt-2 [contain-intrinsic-size:auto_116px]"
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
  const sheet = useSheet();
  const columns = useMemo(() => grouped(freshCells(sheet, production.cast), (c) => c.pose), [sheet, production.cast]);
  return (
    <nav aria-label={TEXT.poses} className="flex min-w-0 overflow-x-auto border-x border-t border-rule bg-chalk/50">
      {production.poses.map((p) => (
        <Tile
          key={p.name}
          label={p.label}
          picture={`/api/pictures/wearer/${wearer}.png?pose=${p.name}&v=${version(shape)}`}
          tall={72}
          cells={columns.get(p.name) ?? NONE}
          here={p.name === pose?.name}
          className="w-[96px] shrink-0 justify-end border-r [contain-intrinsic-size:96px_104px]"
          edge="shadow-[inset_0_3px_0_var(--color-heron)]"
          onPick={() => set({ pose: p.name })}
        />
      ))}
    </nav>
  );
}

/** So many blocks have room in the corner. */
const MINIATURE = { across: 20, down: 14 };
const LOOK = { open: "border border-dashed border-rule", holds: "bg-moss/50", shows: "bg-coral" };

/** The whole sheet in miniature; it unfolds. */
export function Corner({ production }: { production: Production }) {
  const { set, sheet } = useRoomOf("set", "sheet");
  const trial = useSheet();
  const columns = useMemo(() => columnsOf(production), [production]);
  const blocks = useMemo(() => {
    const known = new Map(freshCells(trial, production.cast).map((c) => [`${c.wearer} ${c.pose}`, c.figures]));
    const holds = (row: number, column: number) =>
      known.get(`${production.cast[row]?.id} ${columns[column]?.name}`)?.holds ?? null;
    return miniature(production.cast, columns, holds, MINIATURE);
  }, [trial, production.cast, columns]);
  const across = Math.min(columns.length, MINIATURE.across);
  const side = Math.max(3, Math.min(10, Math.floor(108 / across) - 2));
  return (
    <button
      type="button"
      onClick={() => set({ sheet: !sheet })}
      className="flex cursor-pointer flex-col items-center justify-center gap-1.5 border-t border-rule bg-card hover:bg-chalk/40"
    >
      <span className="grid gap-[2px]" style={{ gridTemplateColumns: `repeat(${across}, ${side}px)` }} aria-hidden>
        {blocks.flatMap((row, r) =>
          row.map((block, c) => (
            <span
              // biome-ignore lint/suspicious/noArrayIndexKey: a block is where it lies
              key={`${r} ${c}`}
              style={{ width: side, height: Math.max(2, Math.round(0.8 * side)) }}
              className={LOOK[block]}
            />
          )),
        )}
      </span>
      <span className="flex items-center gap-1 text-[11.5px] text-soft">
        <Maximize2 size={11} /> {sheet ? TEXT.foldSheet : TEXT.unfoldSheet}
      </span>
    </button>
  );
}
